import type { Sequelize } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'

const MIGRATIONS: { name: string; statements: string[] }[] = [
  {
    name: '0001-sites-and-events',
    statements: [
      `CREATE TABLE sites (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        \`key\` VARCHAR(40) COLLATE utf8mb4_bin NOT NULL UNIQUE,
        name VARCHAR(80) NOT NULL,
        origins JSON NOT NULL,
        time_zone VARCHAR(64) NOT NULL,
        currency CHAR(3) NOT NULL,
        session_limit_min INT NOT NULL,
        goal VARCHAR(500) NOT NULL,
        page_groups JSON NOT NULL
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE sessions (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        visitor VARCHAR(128) COLLATE utf8mb4_bin NOT NULL,
        start_ms BIGINT NOT NULL,
        end_ms BIGINT NOT NULL,
        returning_visitor TINYINT NOT NULL,
        device JSON NOT NULL,
        country CHAR(2) NULL,
        channel VARCHAR(40) NOT NULL,
        campaign JSON NULL,
        referrer VARCHAR(2048) NULL,
        KEY by_visitor (site_id, visitor, end_ms),
        KEY by_start (site_id, start_ms)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE batches (
        site_id INT UNSIGNED NOT NULL,
        document VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
        n INT UNSIGNED NOT NULL,
        received_ms BIGINT NOT NULL,
        PRIMARY KEY (site_id, document, n)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE events (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        session_id BIGINT UNSIGNED NOT NULL,
        t BIGINT NOT NULL,
        kind VARCHAR(12) NOT NULL,
        body MEDIUMTEXT NOT NULL,
        KEY by_session (session_id, t)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE snapshots (
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
        body MEDIUMBLOB NOT NULL
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE recordings (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        session_id BIGINT UNSIGNED NOT NULL,
        site_id INT UNSIGNED NOT NULL,
        document VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
        n INT UNSIGNED NOT NULL,
        start_ms BIGINT NOT NULL,
        page VARCHAR(2048) COLLATE utf8mb4_bin NULL,
        snapshot_hash CHAR(64) COLLATE utf8mb4_bin NULL,
        checksum CHAR(64) NOT NULL,
        body MEDIUMBLOB NOT NULL,
        UNIQUE KEY by_piece (site_id, document, n),
        KEY by_session (session_id)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0002-work',
    statements: [
      `CREATE TABLE funnels (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        steps JSON NOT NULL,
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE fixes (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        title VARCHAR(160) NOT NULL,
        hypothesis TEXT NOT NULL,
        \`change\` TEXT NOT NULL,
        effort VARCHAR(10) NOT NULL,
        status VARCHAR(20) NOT NULL,
        lens JSON NOT NULL,
        selection JSON NOT NULL,
        evidence JSON NOT NULL,
        session_id VARCHAR(20) NULL,
        created_ms BIGINT NOT NULL,
        updated_ms BIGINT NOT NULL,
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE trails (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE marks (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        trail_id INT UNSIGNED NOT NULL,
        position INT NOT NULL,
        address TEXT NOT NULL,
        view VARCHAR(300) NOT NULL,
        sentence TEXT NOT NULL,
        question JSON NOT NULL,
        \`then\` JSON NOT NULL,
        created_ms BIGINT NOT NULL,
        KEY by_trail (trail_id, position),
        CONSTRAINT marks_of_trail FOREIGN KEY (trail_id) REFERENCES trails (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0003-imports',
    statements: [
      'ALTER TABLE sessions ADD COLUMN session_key VARCHAR(128) COLLATE utf8mb4_bin NULL, ADD KEY by_key (site_id, session_key)',
      'ALTER TABLE events ADD COLUMN line_key BINARY(16) NULL, ADD UNIQUE KEY by_line (line_key)',
      `CREATE TABLE imports (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(255) NOT NULL,
        file VARCHAR(1000) NOT NULL,
        kind VARCHAR(20) NOT NULL,
        mapping JSON NULL,
        state VARCHAR(20) NOT NULL,
        progress JSON NOT NULL,
        problems JSON NOT NULL,
        message TEXT NOT NULL,
        started_ms BIGINT NOT NULL,
        ended_ms BIGINT NULL,
        KEY by_site (site_id, id)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0004-retention',
    statements: [
      'ALTER TABLE sites ADD COLUMN retention_days INT UNSIGNED NULL, ADD COLUMN recording_days INT UNSIGNED NULL',
      'ALTER TABLE sessions ADD KEY by_end (site_id, end_ms)',
    ],
  },
  {
    name: '0005-blocks',
    statements: [
      `CREATE TABLE blocks (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        sessions INT UNSIGNED NOT NULL,
        events INT UNSIGNED NOT NULL,
        checksum CHAR(64) NOT NULL,
        \`columns\` LONGBLOB NOT NULL,
        KEY by_site (site_id, id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE block_lines (
        block_id BIGINT UNSIGNED NOT NULL,
        n INT UNSIGNED NOT NULL,
        checksum CHAR(64) NOT NULL,
        body LONGBLOB NOT NULL,
        PRIMARY KEY (block_id, n),
        CONSTRAINT lines_of_block FOREIGN KEY (block_id) REFERENCES blocks (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE block_holes (
        block_id BIGINT UNSIGNED NOT NULL,
        position INT UNSIGNED NOT NULL,
        PRIMARY KEY (block_id, position),
        CONSTRAINT holes_of_block FOREIGN KEY (block_id) REFERENCES blocks (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
      'ALTER TABLE sessions ADD COLUMN block_id BIGINT UNSIGNED NULL, ADD COLUMN block_pos INT UNSIGNED NULL, ADD KEY by_block (block_id), ADD KEY unpacked (site_id, block_id, end_ms)',
    ],
  },
  {
    name: '0006-labels-and-segments',
    statements: [
      `CREATE TABLE actions (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        rule JSON NOT NULL,
        description TEXT NOT NULL,
        owner VARCHAR(120) NOT NULL,
        UNIQUE KEY by_name (site_id, name)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE segments (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        parent_id INT UNSIGNED NULL,
        name VARCHAR(120) NOT NULL,
        cut JSON NOT NULL,
        note TEXT NOT NULL,
        owner VARCHAR(120) NOT NULL,
        created_ms BIGINT NOT NULL,
        KEY by_site (site_id),
        CONSTRAINT child_of FOREIGN KEY (parent_id) REFERENCES segments (id)
      ) DEFAULT CHARSET=utf8mb4`,
      "ALTER TABLE funnels ADD COLUMN options JSON NULL, ADD COLUMN note VARCHAR(2000) NOT NULL DEFAULT '', ADD COLUMN owner VARCHAR(120) NOT NULL DEFAULT '', ADD COLUMN is_default TINYINT NOT NULL DEFAULT 0",
    ],
  },
]

/** Brings the tables up to date. Runs each migration once, in order. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, statements }) => ({
      name,
      up: async () => {
        for (const statement of statements) await sequelize.query(statement)
      },
    })),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  })
  await umzug.up()
}
