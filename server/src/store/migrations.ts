import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { onConnection } from './database.ts'

/**
 * What made the tables what they are, in order. Each statement can be run again where it is not known whether it was: the
 * database commits it before that can be noted.
 */
const MIGRATIONS: { name: string; statements: string[] }[] = [
  {
    name: '0001-sites-and-events',
    statements: [
      `CREATE TABLE IF NOT EXISTS sites (
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
      `CREATE TABLE IF NOT EXISTS sessions (
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
      `CREATE TABLE IF NOT EXISTS batches (
        site_id INT UNSIGNED NOT NULL,
        document VARCHAR(64) COLLATE utf8mb4_bin NOT NULL,
        n INT UNSIGNED NOT NULL,
        received_ms BIGINT NOT NULL,
        PRIMARY KEY (site_id, document, n)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS events (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        session_id BIGINT UNSIGNED NOT NULL,
        t BIGINT NOT NULL,
        kind VARCHAR(12) NOT NULL,
        body MEDIUMTEXT NOT NULL,
        KEY by_session (session_id, t)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS snapshots (
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
        body MEDIUMBLOB NOT NULL
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS recordings (
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
      `CREATE TABLE IF NOT EXISTS funnels (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        steps JSON NOT NULL,
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS fixes (
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
      `CREATE TABLE IF NOT EXISTS trails (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS marks (
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
      'ALTER TABLE sessions ADD COLUMN IF NOT EXISTS session_key VARCHAR(128) COLLATE utf8mb4_bin NULL, ADD KEY IF NOT EXISTS by_key (site_id, session_key)',
      'ALTER TABLE events ADD COLUMN IF NOT EXISTS line_key BINARY(16) NULL, ADD UNIQUE KEY IF NOT EXISTS by_line (line_key)',
      `CREATE TABLE IF NOT EXISTS imports (
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
      'ALTER TABLE sites ADD COLUMN IF NOT EXISTS retention_days INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS recording_days INT UNSIGNED NULL',
      'ALTER TABLE sessions ADD KEY IF NOT EXISTS by_end (site_id, end_ms)',
    ],
  },
  {
    name: '0005-blocks',
    statements: [
      `CREATE TABLE IF NOT EXISTS blocks (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        sessions INT UNSIGNED NOT NULL,
        events INT UNSIGNED NOT NULL,
        checksum CHAR(64) NOT NULL,
        \`columns\` LONGBLOB NOT NULL,
        KEY by_site (site_id, id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS block_lines (
        block_id BIGINT UNSIGNED NOT NULL,
        n INT UNSIGNED NOT NULL,
        checksum CHAR(64) NOT NULL,
        body LONGBLOB NOT NULL,
        PRIMARY KEY (block_id, n),
        CONSTRAINT lines_of_block FOREIGN KEY (block_id) REFERENCES blocks (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS block_holes (
        block_id BIGINT UNSIGNED NOT NULL,
        position INT UNSIGNED NOT NULL,
        PRIMARY KEY (block_id, position),
        CONSTRAINT holes_of_block FOREIGN KEY (block_id) REFERENCES blocks (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
      'ALTER TABLE sessions ADD COLUMN IF NOT EXISTS block_id BIGINT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS block_pos INT UNSIGNED NULL, ADD KEY IF NOT EXISTS by_block (block_id), ADD KEY IF NOT EXISTS unpacked (site_id, block_id, end_ms)',
    ],
  },
  {
    name: '0006-labels-and-segments',
    statements: [
      `CREATE TABLE IF NOT EXISTS actions (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        rule JSON NOT NULL,
        description TEXT NOT NULL,
        owner VARCHAR(120) NOT NULL,
        UNIQUE KEY by_name (site_id, name)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS segments (
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
      "ALTER TABLE funnels ADD COLUMN IF NOT EXISTS options JSON NULL, ADD COLUMN IF NOT EXISTS note VARCHAR(2000) NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS owner VARCHAR(120) NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS is_default TINYINT NOT NULL DEFAULT 0",
    ],
  },
  {
    name: '0007-sessions-from-lines',
    statements: [
      `ALTER TABLE sessions
        DROP COLUMN IF EXISTS device, DROP COLUMN IF EXISTS country, DROP COLUMN IF EXISTS channel, DROP COLUMN IF EXISTS campaign, DROP COLUMN IF EXISTS referrer,
        MODIFY visitor VARCHAR(128) COLLATE utf8mb4_nopad_bin NOT NULL,
        MODIFY session_key VARCHAR(128) COLLATE utf8mb4_nopad_bin NULL,
        ADD COLUMN IF NOT EXISTS act_ms BIGINT NULL,
        ADD COLUMN IF NOT EXISTS line_count INT UNSIGNED NOT NULL DEFAULT 0`,
      "ALTER TABLE sites ADD COLUMN IF NOT EXISTS rates JSON NOT NULL DEFAULT '[]'",
      'ALTER TABLE imports ADD COLUMN IF NOT EXISTS version BIGINT NULL',
      `CREATE TABLE IF NOT EXISTS refusals (
        site_id INT UNSIGNED NOT NULL,
        what VARCHAR(20) NOT NULL,
        reason VARCHAR(200) COLLATE utf8mb4_nopad_bin NOT NULL,
        n BIGINT UNSIGNED NOT NULL,
        first_ms BIGINT NOT NULL,
        last_ms BIGINT NOT NULL,
        PRIMARY KEY (site_id, what, reason)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0008-deleting',
    statements: [
      'ALTER TABLE blocks ADD COLUMN IF NOT EXISTS rewrite TINYINT NOT NULL DEFAULT 0, ADD KEY IF NOT EXISTS by_rewrite (rewrite, id)',
      'ALTER TABLE recordings ADD KEY IF NOT EXISTS by_snapshot (snapshot_hash), ADD KEY IF NOT EXISTS by_start (site_id, start_ms)',
      // Not unique: whoever writes lines looks first, and a unique index would lock what lies beside each new line.
      'ALTER TABLE events DROP KEY IF EXISTS by_line, ADD KEY IF NOT EXISTS by_line_key (line_key)',
    ],
  },
  {
    name: '0009-old-batches',
    statements: ['ALTER TABLE batches ADD KEY IF NOT EXISTS by_receipt (received_ms)'],
  },
  {
    name: '0010-thresholds',
    statements: [
      "ALTER TABLE sites ADD COLUMN IF NOT EXISTS thresholds JSON NOT NULL DEFAULT '{}'",
      "ALTER TABLE sites ADD COLUMN IF NOT EXISTS strain_weights JSON NOT NULL DEFAULT '{}'",
    ],
  },
  {
    name: '0011-own-signals',
    statements: ['ALTER TABLE actions ADD COLUMN IF NOT EXISTS is_signal TINYINT NOT NULL DEFAULT 0'],
  },
  {
    name: '0012-page-versions',
    statements: ['ALTER TABLE snapshots ADD COLUMN IF NOT EXISTS structure CHAR(16) NULL'],
  },
  {
    name: '0013-goals',
    statements: ["ALTER TABLE sites ADD COLUMN IF NOT EXISTS goals JSON NOT NULL DEFAULT '[]'"],
  },
  {
    name: '0014-fixes',
    statements: [
      `ALTER TABLE fixes
        ADD COLUMN IF NOT EXISTS belief TEXT NOT NULL DEFAULT '',
        ADD COLUMN IF NOT EXISTS expectation TEXT NOT NULL DEFAULT '',
        ADD COLUMN IF NOT EXISTS owner VARCHAR(120) NOT NULL DEFAULT '',
        ADD COLUMN IF NOT EXISTS links JSON NOT NULL DEFAULT '[]',
        ADD COLUMN IF NOT EXISTS expected_gain DOUBLE NULL,
        ADD COLUMN IF NOT EXISTS shipped_day CHAR(10) NULL,
        ADD COLUMN IF NOT EXISTS priced JSON NULL,
        ADD COLUMN IF NOT EXISTS mark_ids JSON NOT NULL DEFAULT '[]',
        ADD COLUMN IF NOT EXISTS position INT NOT NULL DEFAULT 0,
        ADD COLUMN IF NOT EXISTS verified JSON NULL`,
      "UPDATE fixes SET status = CASE status WHEN 'proposed' THEN 'idea' WHEN 'accepted' THEN 'ready' WHEN 'dropped' THEN 'rejected' ELSE status END",
      `CREATE TABLE IF NOT EXISTS fix_events (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        fix_id INT UNSIGNED NOT NULL,
        at_ms BIGINT NOT NULL,
        kind VARCHAR(20) NOT NULL,
        words TEXT NOT NULL,
        KEY by_fix (fix_id, id),
        FOREIGN KEY (fix_id) REFERENCES fixes (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS dismissed (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        problem JSON NOT NULL,
        reason VARCHAR(500) NOT NULL,
        at_ms BIGINT NOT NULL,
        KEY by_site (site_id, id)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0015-paths-and-costs',
    statements: [
      `CREATE TABLE IF NOT EXISTS paths (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        name VARCHAR(120) NOT NULL,
        note VARCHAR(2000) NOT NULL DEFAULT '',
        owner VARCHAR(120) NOT NULL DEFAULT '',
        asked JSON NOT NULL,
        KEY by_site (site_id, id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS costs (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        day CHAR(10) NOT NULL,
        campaign VARCHAR(500) NOT NULL,
        cost DECIMAL(16,4) NOT NULL,
        KEY by_site (site_id, day)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0016-people',
    statements: [
      `CREATE TABLE IF NOT EXISTS accounts (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        email VARCHAR(254) NOT NULL,
        name VARCHAR(120) NOT NULL,
        password_hash VARCHAR(200) NOT NULL,
        totp_secret VARCHAR(64) NULL,
        totp_on TINYINT NOT NULL DEFAULT 0,
        totp_used BIGINT NOT NULL DEFAULT 0,
        administrator TINYINT NOT NULL DEFAULT 0,
        made_ms BIGINT NOT NULL,
        seen_ms BIGINT NULL,
        UNIQUE KEY by_email (email)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS logins (
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
        account_id INT UNSIGNED NOT NULL,
        until_ms BIGINT NOT NULL,
        KEY by_account (account_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS roles (
        account_id INT UNSIGNED NOT NULL,
        site_id INT UNSIGNED NOT NULL,
        role VARCHAR(10) NOT NULL,
        PRIMARY KEY (account_id, site_id),
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS tokens (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL,
        site_id INT UNSIGNED NOT NULL,
        role VARCHAR(10) NOT NULL,
        name VARCHAR(120) NOT NULL,
        made_by VARCHAR(254) NOT NULL,
        made_ms BIGINT NOT NULL,
        until_ms BIGINT NOT NULL,
        used_ms BIGINT NULL,
        UNIQUE KEY by_hash (hash),
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS mail_links (
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
        kind VARCHAR(10) NOT NULL,
        email VARCHAR(254) NOT NULL,
        site_id INT UNSIGNED NULL,
        role VARCHAR(10) NULL,
        until_ms BIGINT NOT NULL,
        KEY by_site (site_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS audit (
        id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NULL,
        at_ms BIGINT NOT NULL,
        who VARCHAR(254) NOT NULL,
        what VARCHAR(120) NOT NULL,
        path VARCHAR(500) NOT NULL,
        address VARCHAR(64) NOT NULL,
        KEY by_site (site_id, id)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0017-privacy',
    statements: [
      // What was recorded of these sites so far goes on being recorded.
      `ALTER TABLE sites ADD COLUMN IF NOT EXISTS capture JSON NOT NULL
         DEFAULT ('{"text":"patterns","consent":"free","share":1}')`,
      `CREATE TABLE IF NOT EXISTS erased_visitors (
        site_id INT UNSIGNED NOT NULL,
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL,
        PRIMARY KEY (site_id, hash)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0018-replays',
    statements: [
      'ALTER TABLE recordings ADD COLUMN IF NOT EXISTS piece INT UNSIGNED NULL',
      // Of pieces that came before any session of their visitor: session 0, and whose they are.
      'ALTER TABLE recordings ADD COLUMN IF NOT EXISTS visitor VARCHAR(128) COLLATE utf8mb4_bin NULL',
      `CREATE TABLE IF NOT EXISTS session_notes (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        session_id BIGINT UNSIGNED NOT NULL,
        at_ms INT UNSIGNED NOT NULL,
        box JSON NULL,
        text VARCHAR(2000) NOT NULL,
        who VARCHAR(254) NOT NULL,
        made_ms BIGINT NOT NULL,
        KEY by_session (session_id)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS session_tags (
        session_id BIGINT UNSIGNED NOT NULL,
        site_id INT UNSIGNED NOT NULL,
        tag VARCHAR(40) NOT NULL,
        PRIMARY KEY (session_id, tag),
        KEY by_tag (site_id, tag)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS session_watched (
        session_id BIGINT UNSIGNED NOT NULL,
        site_id INT UNSIGNED NOT NULL,
        who VARCHAR(254) NOT NULL,
        at_ms BIGINT NOT NULL,
        PRIMARY KEY (session_id, who),
        KEY by_site (site_id, who)
      ) DEFAULT CHARSET=utf8mb4`,
      `CREATE TABLE IF NOT EXISTS session_links (
        id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
        site_id INT UNSIGNED NOT NULL,
        session_id BIGINT UNSIGNED NOT NULL,
        hash CHAR(64) COLLATE utf8mb4_bin NOT NULL,
        from_ms INT UNSIGNED NOT NULL,
        to_ms INT UNSIGNED NULL,
        until_ms BIGINT NOT NULL,
        who VARCHAR(254) NOT NULL,
        made_ms BIGINT NOT NULL,
        UNIQUE KEY by_hash (hash),
        KEY by_session (session_id)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0019-kept-files',
    statements: [
      `CREATE TABLE IF NOT EXISTS kept_files (
        site_id INT UNSIGNED NOT NULL,
        hash CHAR(64) COLLATE ascii_bin NOT NULL,
        type VARCHAR(40) NOT NULL,
        bytes INT UNSIGNED NOT NULL,
        used_ms BIGINT NOT NULL,
        body MEDIUMBLOB NOT NULL,
        PRIMARY KEY (site_id, hash),
        KEY by_use (site_id, used_ms)
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0020-rights',
    statements: [
      `CREATE TABLE IF NOT EXISTS site_secrets (
        site_id INT UNSIGNED NOT NULL PRIMARY KEY,
        secret BINARY(32) NOT NULL
      ) DEFAULT CHARSET=utf8mb4`,
      // Who changed what is kept for about two years, unless an owner says otherwise: common practice, no source.
      'ALTER TABLE sites ADD COLUMN IF NOT EXISTS audit_days INT NULL DEFAULT 730',
      'ALTER TABLE audit ADD KEY IF NOT EXISTS by_time (site_id, at_ms)',
    ],
  },
  {
    name: '0021-block-signals',
    statements: [
      `CREATE TABLE IF NOT EXISTS block_signals (
        block_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
        found_under VARCHAR(400) COLLATE ascii_bin NOT NULL,
        of_columns CHAR(64) NOT NULL,
        checksum CHAR(64) NOT NULL,
        body LONGBLOB NOT NULL,
        CONSTRAINT signals_of_block FOREIGN KEY (block_id) REFERENCES blocks (id) ON DELETE CASCADE
      ) DEFAULT CHARSET=utf8mb4`,
    ],
  },
  {
    name: '0022-pictures-of-marks',
    statements: [
      "ALTER TABLE marks ADD COLUMN IF NOT EXISTS shows JSON NULL, ADD COLUMN IF NOT EXISTS picture JSON NULL, ADD COLUMN IF NOT EXISTS heading VARCHAR(80) NOT NULL DEFAULT ''",
      'ALTER TABLE trails ADD COLUMN IF NOT EXISTS account_id INT UNSIGNED NULL, ADD KEY IF NOT EXISTS by_account (account_id)',
    ],
  },
]

const LOCK_PATIENCE_S = 120

/**
 * Brings the tables up to date: each statement runs once, under a lock, and is noted; what was broken off goes on where it
 * was.
 *
 * @param until  name of the last migration to run, for tests; all where it is missing
 * @throws Error where the tables were made by a later version
 */
export async function migrate(sequelize: Sequelize, until?: string): Promise<void> {
  await onConnection(sequelize, async (connection) => {
    const lock = "CONCAT('dust-trail tables ', LEFT(DATABASE(), 40))"
    const [row] = await connection.query<{ got: number | bigint | null }[]>(
      `SELECT GET_LOCK(${lock}, ?) AS got`,
      [LOCK_PATIENCE_S],
    )
    if (Number(row?.got) !== 1)
      throw new Error(
        'Another server has been changing the tables for two minutes. Try again when it is done.',
      )
    try {
      await runMissing(connection, until)
    } finally {
      await connection.query(`DO RELEASE_LOCK(${lock})`)
    }
  })
}

async function runMissing(connection: Connection, until: string | undefined): Promise<void> {
  await connection.query('CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(255) NOT NULL PRIMARY KEY)')
  const rows = await connection.query<{ name: string }[]>('SELECT name FROM migrations')
  const done = new Set(rows.map(({ name }) => name))
  const steps = MIGRATIONS.flatMap(({ name, statements }) =>
    statements.map((statement, k) => ({ name, step: `${name} ${k + 1}`, statement })),
  )
  // Earlier versions noted a migration as a whole.
  const known = new Set(steps.flatMap(({ name, step }) => [name, step]))
  const later = [...done].filter((name) => !known.has(name))
  if (later.length)
    throw new Error(
      `The tables were made by a later version of Dust Trail (${later.join(', ')}). Run that version, or restore a backup made with this one.`,
    )
  for (const { name, step, statement } of steps) {
    if (until !== undefined && name > until) return
    if (done.has(name) || done.has(step)) continue
    await connection.query(statement)
    await connection.query('INSERT INTO migrations (name) VALUES (?)', [step])
  }
}
