import type {
  Action,
  CampaignCost,
  BadLine,
  Dismissed,
  Fix,
  FixEvent,
  Import,
  Mark,
  Question,
  SavedFunnel,
  SavedPaths,
  Segment,
  Site,
} from '@dust-trail/api'
import type { Goal } from '@dust-trail/core'
import type { ModelStatic, Sequelize } from 'sequelize'
import { DataTypes, Model } from 'sequelize'

export interface SiteRow {
  id: number
  key: string
  name: string
  origins: string[]
  timeZone: string
  currency: string
  sessionLimitMin: number
  goal: string
  goals: Goal[]
  retentionDays: number | null
  recordingDays: number | null
  auditDays: number | null
  rates: Site['rates']
  pageGroups: Site['pageGroups']
  thresholds: Site['thresholds']
  strainWeights: Site['strainWeights']
  capture: Site['capture']
}

export type FunnelRow = SavedFunnel & { siteId: number }
export type PathsRow = SavedPaths & { siteId: number }
export type CostRow = CampaignCost & { id: number; siteId: number }
export type ActionRow = Omit<Action, 'usedBy'> & { siteId: number }
export type SegmentRow = Segment & { siteId: number }

export type FixRow = Fix & { siteId: number }

export type FixEventRow = FixEvent & { id: number; fixId: number }
export type DismissedRow = Dismissed & { siteId: number }

export interface TrailRow {
  id: number
  siteId: number
  name: string
  /** whose it is alone; null = everybody's */
  accountId: number | null
}

export interface MarkRow extends Omit<Mark, 'now'> {
  trailId: number
  position: number
  question: Question
}

export interface ImportRow extends Omit<Import, 'problems'> {
  siteId: number
  /** where the uploaded file lies while it is needed */
  file: string
  problems: BadLine[]
}

type Row<T extends { id: number }> = ModelStatic<Model<T, Omit<T, 'id'> & { id?: number }>>

export interface Models {
  sites: Row<SiteRow>
  funnels: Row<FunnelRow>
  paths: Row<PathsRow>
  costs: Row<CostRow>
  actions: Row<ActionRow>
  segments: Row<SegmentRow>
  fixes: Row<FixRow>
  fixEvents: Row<FixEventRow>
  dismissed: Row<DismissedRow>
  trails: Row<TrailRow>
  marks: Row<MarkRow>
  imports: Row<ImportRow>
}

const id = { type: DataTypes.INTEGER.UNSIGNED, primaryKey: true, autoIncrement: true }
const siteId = { type: DataTypes.INTEGER.UNSIGNED, field: 'site_id' }
const { STRING, TEXT, JSON, INTEGER, BIGINT, BOOLEAN, DECIMAL, DOUBLE } = DataTypes

/** Tables whose rows have an identity. Sessions, events and recordings are written and read in bulk instead. */
export function defineModels(sequelize: Sequelize): Models {
  return {
    sites: sequelize.define('sites', {
      id,
      key: STRING(40),
      name: STRING(80),
      origins: JSON,
      timeZone: { type: STRING(64), field: 'time_zone' },
      currency: STRING(3),
      sessionLimitMin: { type: INTEGER, field: 'session_limit_min' },
      goal: STRING(500),
      goals: JSON,
      retentionDays: { type: INTEGER, field: 'retention_days' },
      recordingDays: { type: INTEGER, field: 'recording_days' },
      auditDays: { type: INTEGER, field: 'audit_days' },
      rates: JSON,
      pageGroups: { type: JSON, field: 'page_groups' },
      thresholds: JSON,
      strainWeights: { type: JSON, field: 'strain_weights' },
      capture: JSON,
    }),
    funnels: sequelize.define('funnels', {
      id,
      siteId,
      name: STRING(120),
      steps: JSON,
      options: JSON,
      note: STRING(2000),
      owner: STRING(120),
      isDefault: { type: BOOLEAN, field: 'is_default' },
    }),
    paths: sequelize.define('paths', {
      id,
      siteId,
      name: STRING(120),
      note: STRING(2000),
      owner: STRING(120),
      asked: JSON,
    }),
    costs: sequelize.define('costs', {
      id,
      siteId,
      day: STRING(10),
      campaign: STRING(500),
      cost: DECIMAL(16, 4),
    }),
    actions: sequelize.define('actions', {
      id,
      siteId,
      name: STRING(120),
      rule: JSON,
      description: TEXT,
      owner: STRING(120),
      isSignal: { type: BOOLEAN, field: 'is_signal' },
    }),
    segments: sequelize.define('segments', {
      id,
      siteId,
      parentId: { type: INTEGER.UNSIGNED, field: 'parent_id' },
      name: STRING(120),
      cut: JSON,
      note: TEXT,
      owner: STRING(120),
      createdMs: { type: BIGINT, field: 'created_ms' },
    }),
    fixes: sequelize.define('fixes', {
      id,
      siteId,
      title: STRING(160),
      hypothesis: TEXT,
      change: TEXT,
      effort: STRING(10),
      status: STRING(20),
      lens: JSON,
      selection: JSON,
      evidence: JSON,
      sessionId: { type: STRING(20), field: 'session_id' },
      belief: TEXT,
      expectation: TEXT,
      owner: STRING(120),
      links: JSON,
      expectedGain: { type: DOUBLE, field: 'expected_gain' },
      shippedDay: { type: STRING(10), field: 'shipped_day' },
      priced: JSON,
      markIds: { type: JSON, field: 'mark_ids' },
      position: INTEGER,
      verified: JSON,
      createdMs: { type: BIGINT, field: 'created_ms' },
      updatedMs: { type: BIGINT, field: 'updated_ms' },
    }),
    fixEvents: sequelize.define(
      'fix_events',
      {
        id,
        fixId: { type: INTEGER.UNSIGNED, field: 'fix_id' },
        atMs: { type: BIGINT, field: 'at_ms' },
        kind: STRING(20),
        words: TEXT,
      },
      { tableName: 'fix_events' },
    ),
    dismissed: sequelize.define(
      'dismissed',
      { id, siteId, problem: JSON, reason: STRING(500), atMs: { type: BIGINT, field: 'at_ms' } },
      { tableName: 'dismissed' },
    ),
    trails: sequelize.define('trails', {
      id,
      siteId,
      name: STRING(120),
      accountId: { type: INTEGER.UNSIGNED, field: 'account_id' },
    }),
    imports: sequelize.define('imports', {
      id,
      siteId,
      name: STRING(255),
      file: STRING(1000),
      kind: STRING(20),
      mapping: JSON,
      state: STRING(20),
      progress: JSON,
      problems: JSON,
      message: TEXT,
      startedMs: { type: BIGINT, field: 'started_ms' },
      endedMs: { type: BIGINT, field: 'ended_ms' },
      version: BIGINT,
    }),
    marks: sequelize.define('marks', {
      id,
      trailId: { type: INTEGER.UNSIGNED, field: 'trail_id' },
      position: INTEGER,
      address: TEXT,
      view: STRING(300),
      sentence: TEXT,
      question: JSON,
      then: JSON,
      shows: JSON,
      picture: JSON,
      heading: STRING(80),
      createdMs: { type: BIGINT, field: 'created_ms' },
    }),
  }
}
