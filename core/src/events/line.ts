import { z } from 'zod'

/**
 * One line of the open clickstream format: what happened, once, on a visitor's device.
 * Capture sends these, imports read them, exports write them. See docs/clickstream.md for the meaning of each field.
 */
export const KINDS = [
  'page',
  'leave',
  'click',
  'input',
  'submit',
  'scroll',
  'seen',
  'hide',
  'show',
  'out',
  'error',
  'request',
  'freeze',
  'gesture',
  'action',
  'signal',
  'variant',
  'answer',
  'rest',
] as const
export type Kind = (typeof KINDS)[number]

export const DEVICE_CLASSES = ['desktop', 'mobile', 'tablet'] as const
export type DeviceClass = (typeof DEVICE_CLASSES)[number]

export const EFFECTS = ['none', 'change', 'navigate'] as const
export type Effect = (typeof EFFECTS)[number]

const text = (max: number) =>
  z.string({ error: 'must be text' }).max(max, { error: `must be at most ${max} characters long` })
const filled = (max: number) => text(max).min(1, { error: 'must not be empty' })
const number = z.number({ error: 'must be a number' })
const atLeastZero = number.min(0, { error: 'must not be negative' })
const whole = number.int({ error: 'must be a whole number' })
const count = whole.min(0, { error: 'must not be negative' })
const share = number.min(0, { error: 'must be between 0 and 1' }).max(1, { error: 'must be between 0 and 1' })
const flag = z.boolean({ error: 'must be true or false' })
const pixels = whole
  .min(1, { error: 'must be 1 to 20,000 px' })
  .max(20_000, { error: 'must be 1 to 20,000 px' })
const oneOf = <const T extends readonly string[]>(values: T) =>
  z.enum(values, { error: `must be one of: ${values.join(', ')}` })

export const targetSchema = z.object({
  selector: filled(500),
  tag: text(40).optional(),
  text: text(80).optional(),
  interactive: flag.optional(),
  w: atLeastZero.optional(),
  h: atLeastZero.optional(),
})
export type Target = z.infer<typeof targetSchema>

export const deviceSchema = z.object({
  class: oneOf(DEVICE_CLASSES).optional(),
  os: text(40).optional(),
  browser: text(40).optional(),
  width: pixels.optional(),
  height: pixels.optional(),
})
export type Device = z.infer<typeof deviceSchema>

export const campaignSchema = z.object({
  source: z.string().optional(),
  medium: z.string().optional(),
  name: z.string().optional(),
  term: z.string().optional(),
  content: z.string().optional(),
})
export type Campaign = z.infer<typeof campaignSchema>

const time = z.union(
  [z.number().int().min(0), z.iso.datetime({ offset: true }).transform((iso) => Date.parse(iso))],
  { error: 'must be ISO 8601 with offset, or whole milliseconds since 1970' },
)

/** Which fields a kind cannot do without, besides visitor, t and kind. */
const REQUIRED: Partial<Record<Kind, readonly string[]>> = {
  page: ['url'],
  click: ['target'],
  input: ['target'],
  submit: ['target'],
  seen: ['target'],
  scroll: ['depth'],
  error: ['message'],
  request: ['path'],
  freeze: ['ms'],
  gesture: ['name'],
  action: ['name'],
  signal: ['name'],
  variant: ['experiment', 'variant'],
  answer: ['question'],
  rest: ['target', 'ms'],
}

export const lineSchema = z
  .looseObject({
    visitor: filled(128),
    t: time,
    kind: oneOf(KINDS),
    session: filled(128).optional(),
    id: filled(128).optional(),
    url: text(2048).optional(),
    referrer: text(2048).optional(),
    country: z
      .string()
      .regex(/^[A-Z]{2}$/, { error: 'must be two capital letters (ISO 3166-1 alpha-2)' })
      .optional(),
    device: deviceSchema.optional(),
    campaign: campaignSchema.optional(),
    props: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])).optional(),
    tab: text(64).optional(),
    returning: flag.optional(),
    robot: flag.optional(),
    title: text(500).optional(),
    load: atLeastZero.optional(),
    status: count.max(599, { error: 'must be 0 to 599' }).optional(),
    height: whole.min(1, { error: 'must be at least 1' }).optional(),
    navigation: oneOf(['navigate', 'reload', 'back_forward', 'history']).optional(),
    results: count.optional(),
    loaded: flag.optional(),
    target: targetSchema.optional(),
    x: number.optional(),
    y: number.optional(),
    rx: share.optional(),
    ry: share.optional(),
    effect: oneOf(EFFECTS).optional(),
    label: text(120).optional(),
    length: count.optional(),
    corrections: count.optional(),
    ok: flag.optional(),
    explained: flag.optional(),
    button: text(500).optional(),
    depth: share.optional(),
    top: number.optional(),
    message: text(2000).optional(),
    source: text(2048).optional(),
    line: count.optional(),
    column: count.optional(),
    stack: text(8000).optional(),
    method: text(10).optional(),
    path: text(2048).optional(),
    ms: atLeastZero.optional(),
    size: count.optional(),
    name: filled(120).optional(),
    value: number.optional(),
    currency: z
      .string()
      .regex(/^[A-Z]{3}$/, { error: 'must be three capital letters (ISO 4217)' })
      .optional(),
    experiment: text(120).optional(),
    variant: text(120).optional(),
    question: text(300).optional(),
    score: number.optional(),
    text: text(2000).optional(),
  })
  .superRefine((line, context) => {
    for (const field of REQUIRED[line.kind] ?? [])
      if ((line as Record<string, unknown>)[field] === undefined)
        context.addIssue({
          code: 'custom',
          path: [field],
          message: `is required for kind "${line.kind}"`,
        })
  })

/** A validated line; `t` is milliseconds since 1970. */
export type Line = z.infer<typeof lineSchema>
