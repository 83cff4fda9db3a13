import type { AnyQuestion } from '@dust-trail/core'
import { registry } from '@dust-trail/core'
import { z } from 'zod'
import type { Endpoint } from './endpoint.ts'
import * as endpoints from './endpoints.ts'
import { FIELD_WORDS } from './field-words.ts'
import { endpointOf } from './question-endpoint.ts'

type Json = Record<string, unknown>

const PROBLEM: Json = {
  type: 'object',
  description: 'What went wrong, for people and programs (RFC 9457).',
  required: ['type', 'title', 'status', 'code', 'detail', 'hint'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    code: { type: 'string', description: 'A stable word for programs.' },
    detail: { type: 'string' },
    hint: { type: 'string', description: 'What to do about it.' },
    fields: {
      type: 'array',
      description: 'The fields of what was sent that were wrong.',
      items: {
        type: 'object',
        required: ['field', 'reason'],
        properties: { field: { type: 'string' }, reason: { type: 'string' } },
      },
    },
  },
}

const PROBLEM_ANSWER: Json = {
  description: 'A problem.',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
}

/** The API described by the very schemas that it checks with (OpenAPI 3.1). */
export function openApi(questions: readonly AnyQuestion[] = registry.questions): Json {
  const paths: Record<string, Json> = {}
  const shared = new Shared()
  const add = (one: Endpoint, described: Json) => {
    const path = one.path.replaceAll(/:(\w+)/g, '{$1}')
    const parameters = [...one.path.matchAll(/:(\w+)/g)].map(([, parameter]) => shared.parameter(parameter!))
    paths[path] = {
      ...(parameters.length && { parameters }),
      ...paths[path],
      [one.method.toLowerCase()]: described,
    }
  }
  for (const [name, one] of Object.entries(endpoints))
    if (isEndpoint(one)) add(one, operation(shared, name, one))
  for (const question of questions) {
    const words = question.name.split('-').map((word) => word[0]!.toUpperCase() + word.slice(1))
    const { summary, example } = question
    add(
      endpointOf(question),
      operation(shared, `ask${words.join('')}`, endpointOf(question), { summary, example }),
    )
  }
  Object.assign(paths, files(shared))
  const once = tidied(sharedOnce(paths, { Problem: PROBLEM, ...shared.schemas }))
  return {
    openapi: '3.1.0',
    info: {
      title: 'Dust Trail',
      version: '1',
      description:
        'Every question that the application asks. A question is answered from what stands at that moment; where its client goes away the work on it stops.',
    },
    servers: [{ url: '/api/v1' }],
    paths: once.paths,
    components: {
      schemas: once.schemas,
      parameters: shared.parameters,
      responses: { Problem: PROBLEM_ANSWER },
    },
  }
}

/** A shorter part is written out as quickly as it is referred to. */
const WORTH_SHARING = 80

/** Parts of schemas that say the same in several places are written once and referred to. */
function sharedOnce(
  paths: Record<string, Json>,
  schemas: Record<string, Json>,
): { paths: Record<string, Json>; schemas: Record<string, Json> } {
  const times = new Map<string, number>()
  const names = new Map(Object.entries(schemas).map(([name, schema]) => [JSON.stringify(schema), name]))
  const count = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return
    if (isSchema(value)) {
      const text = JSON.stringify(value)
      if (text.length >= WORTH_SHARING) times.set(text, (times.get(text) ?? 0) + 1)
    }
    for (const [key, own] of Object.entries(value)) if (key !== 'example') count(own)
  }
  count(paths)
  for (const schema of Object.values(schemas)) for (const own of Object.values(schema)) count(own)
  const made: Record<string, Json> = {}
  const short = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(short)
    if (typeof value !== 'object' || value === null) return value
    const text = isSchema(value) ? JSON.stringify(value) : ''
    const known = names.get(text)
    if (known === undefined && (times.get(text) ?? 0) < 2) return inside(value)
    const name = known ?? `Same${Object.keys(made).length}`
    if (known === undefined) {
      names.set(text, name)
      made[name] = {}
      made[name] = inside(value)
    }
    return { $ref: `#/components/schemas/${name}` }
  }
  const inside = (value: object): Json =>
    Object.fromEntries(
      Object.entries(value).map(([key, own]) => [key, key === 'example' ? (own as unknown) : short(own)]),
    )
  const shortened = Object.fromEntries(
    Object.entries(schemas).map(([name, schema]) => [name, inside(schema)]),
  )
  return { paths: inside(paths) as Record<string, Json>, schemas: { ...shortened, ...made } }
}

interface Described {
  paths: Record<string, Json>
  schemas: Record<string, Json>
}

const SCHEMAS = '#/components/schemas/'
/** What is shorter than a reference is written out. */
const SHORT = 40

/**
 * The same with parts that have come to say the same as one, and those that are shorter than what refers to them written
 * out. That whole numbers can be held exactly is true of any JSON, and not said.
 */
function tidied(described: Described): Described {
  let { paths, schemas } = rewritten(described, (one) => withoutLimits(one))
  for (;;) {
    const first = new Map<string, string>()
    const instead = new Map<string, string | Json>()
    for (const [name, schema] of Object.entries(schemas)) {
      const text = JSON.stringify(schema)
      const same = first.get(text)
      if (text.length < SHORT && !('$ref' in schema)) instead.set(name, schema)
      else if (same !== undefined && name !== 'Problem') instead.set(name, same)
      else first.set(text, name)
    }
    if (!instead.size) return shortNamed({ paths, schemas })
    const left = Object.fromEntries(Object.entries(schemas).filter(([name]) => !instead.has(name)))
    ;({ paths, schemas } = rewritten({ paths, schemas: left }, (one) => {
      const name = typeof one['$ref'] === 'string' ? one['$ref'].slice(SCHEMAS.length) : undefined
      const other = name === undefined ? undefined : instead.get(name)
      if (other === undefined) return one
      return typeof other === 'string'
        ? { ...one, $ref: SCHEMAS + other }
        : { ...without(one, '$ref'), ...other }
    }))
  }
}

/** The same with schemas named by number, but for those that have a name for people. */
function shortNamed(described: Described): Described {
  const names = new Map(
    Object.keys(described.schemas).map((name, k) => [name, /^(Part|Same|Whole)/.test(name) ? `S${k}` : name]),
  )
  const { paths, schemas } = rewritten(described, (one) => {
    const name = typeof one['$ref'] === 'string' ? names.get(one['$ref'].slice(SCHEMAS.length)) : undefined
    return name === undefined ? one : { ...one, $ref: SCHEMAS + name }
  })
  return {
    paths,
    schemas: Object.fromEntries(Object.entries(schemas).map(([name, schema]) => [names.get(name)!, schema])),
  }
}

/** Every object in a description, from the innermost on, as another one. */
function rewritten({ paths, schemas }: Described, change: (one: Json) => Json): Described {
  const all = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(all)
    if (typeof value !== 'object' || value === null) return value
    return change(
      Object.fromEntries(
        Object.entries(value).map(([key, own]) => [key, key === 'example' ? (own as unknown) : all(own)]),
      ),
    )
  }
  return { paths: all(paths) as Record<string, Json>, schemas: all(schemas) as Record<string, Json> }
}

function withoutLimits(one: Json): Json {
  if (one['type'] !== 'integer') return one
  const below = one['minimum'] === -Number.MAX_SAFE_INTEGER ? without(one, 'minimum') : one
  return one['maximum'] === Number.MAX_SAFE_INTEGER ? without(below, 'maximum') : below
}

function without(one: Json, name: string): Json {
  return Object.fromEntries(Object.entries(one).filter(([key]) => key !== name))
}

/** Whether a part of the description is a schema, and not a list of properties, one of which may be called "type". */
function isSchema(value: object): boolean {
  return 'type' in value ? typeof value.type === 'string' : 'anyOf' in value && Array.isArray(value.anyOf)
}

function isEndpoint(value: unknown): value is Endpoint {
  return typeof value === 'object' && value !== null && 'method' in value && 'path' in value
}

/** @param told  what a question says of itself */
function operation(
  shared: Shared,
  name: string,
  one: Endpoint,
  told?: { summary: string; example: object },
): Json {
  const body = shared.of(one.body, 'input')
  const asks = one.method === 'POST' || one.method === 'PUT'
  return {
    operationId: name,
    ...(told && { summary: told.summary }),
    ...(asks && {
      requestBody: {
        required: true,
        content: {
          'application/json': { schema: body, ...(told && { example: exampleBody(told.example) }) },
        },
      },
    }),
    responses: {
      '200': {
        description: 'OK',
        content: {
          'application/json': { schema: shared.of(one.answer, 'output') },
          ...(one.table && { 'text/csv': { schema: { type: 'string' } } }),
        },
      },
      ...problems(),
    },
  }
}

function exampleBody(asked: object): Json {
  return { lens: { from: '2026-06-01', to: '2026-06-28' }, ...asked }
}

function problems(): Json {
  return { default: { $ref: '#/components/responses/Problem' } }
}

const REFERENCE = /"#\/\$defs\/([^"]+)"/g
/** How far definitions are followed to tell them apart: more than anything that is asked or answered is deep. */
const DEPTH = 12

/**
 * Schemas that several endpoints share, written once. What is asked and what is answered differ where something has a
 * default: an answer always has it.
 */
class Shared {
  readonly schemas: Record<string, Json> = {}
  readonly #names = new Map<string, string>()
  readonly #numbers = new Map<string, number>()

  /** by schema what was given for it, to be replaced by a reference where it is used again */
  readonly #whole = { input: new Map<z.ZodType, Json>(), output: new Map<z.ZodType, Json>() }

  /** A schema as JSON Schema 2020-12; what it shares with others is referred to, and so is one that is used again. */
  of(schema: z.ZodType, io: 'input' | 'output'): Json {
    const before = this.#whole[io].get(schema)
    if (!before) {
      const made = this.#made(schema, io)
      this.#whole[io].set(schema, made)
      return made
    }
    if (!('$ref' in before)) {
      const name = `Whole${Object.keys(this.schemas).length}`
      this.schemas[name] = { ...before }
      for (const key of Object.keys(before)) delete before[key]
      before['$ref'] = `#/components/schemas/${name}`
    }
    return before
  }

  #made(schema: z.ZodType, io: 'input' | 'output'): Json {
    const {
      $schema: _,
      $defs = {},
      ...json
    } = z.toJSONSchema(schema, {
      io,
      unrepresentable: 'any',
      reused: 'ref',
    }) as Json & { $defs?: Record<string, Json> }
    const kinds = this.#kindsOf($defs)
    const names = new Map(Object.keys($defs).map((name) => [name, this.#nameOf(name, kinds.get(name)!)]))
    const renamed = (value: unknown): unknown => {
      if (Array.isArray(value)) return value.map(renamed)
      if (typeof value !== 'object' || value === null) return value
      return Object.fromEntries(
        Object.entries(value).flatMap(([key, own]): [string, unknown][] => {
          // An answer may have more in it tomorrow.
          if (key === 'additionalProperties' && io === 'output' && own === false) return []
          if (key === '$ref') return [[key, this.#address(String(own), names)]]
          return [[key, key === 'properties' && io === 'input' ? told(renamed(own) as Json) : renamed(own)]]
        }),
      )
    }
    // What is asked is described in full; an answer that says the same is described by it.
    for (const [name, { id: _id, ...definition }] of Object.entries($defs))
      if (io === 'input' || !(names.get(name)! in this.schemas))
        this.schemas[names.get(name)!] = renamed(definition) as Json
    return renamed(json) as Json
  }

  readonly parameters: Record<string, Json> = {}

  /** A part of an address, described once. */
  parameter(name: string): Json {
    this.parameters[name] = { name, in: 'path', required: true, schema: { type: 'string' } }
    return { $ref: `#/components/parameters/${name}` }
  }

  #address(reference: string, names: ReadonlyMap<string, string>): string {
    const name = reference.replace('#/$defs/', '')
    return names.has(name) ? `#/components/schemas/${names.get(name)}` : reference
  }

  /**
   * Definitions by number, equal for those that say the same, with all that they refer to up to DEPTH steps away. Round by
   * round each is told by its own text and the numbers of what it refers to, so that it takes no longer where they refer to
   * one another in circles.
   */
  #kindsOf(definitions: Record<string, Json>): ReadonlyMap<string, number> {
    const own = Object.entries(definitions).map(([name, definition]) => {
      const text = JSON.stringify(definition)
      const refers = [...text.matchAll(REFERENCE)].map(([, other]) => other!)
      return { name, text: this.#numberOf(text.replaceAll(REFERENCE, '')), refers }
    })
    let kinds = new Map(own.map(({ name, text }) => [name, text]))
    for (let round = 0; round < DEPTH; round++)
      kinds = new Map(
        own.map(({ name, text, refers }) => [
          name,
          this.#numberOf(`${round} ${text} ${refers.map((other) => kinds.get(other)).join()}`),
        ]),
      )
    return kinds
  }

  #numberOf(text: string): number {
    const known = this.#numbers.get(text) ?? this.#numbers.size
    this.#numbers.set(text, known)
    return known
  }

  /** The same name for the same definition, whatever it was called. */
  #nameOf(name: string, kind: number): string {
    const given = name.startsWith('__') ? undefined : name
    const text = `${given ?? ''} ${kind}`
    let known = this.#names.get(text)
    if (!known) {
      const base = given ?? `Part${this.#names.size + 1}`
      known =
        base in this.schemas || [...this.#names.values()].includes(base)
          ? `${base}${this.#names.size + 1}`
          : base
      this.#names.set(text, known)
    }
    return known
  }
}

/** Properties, each with what it means. */
function told(properties: Json): Json {
  return Object.fromEntries(
    Object.entries(properties as Record<string, Json>).map(([name, schema]) => [
      name,
      'description' in schema || 'const' in schema || !(name in FIELD_WORDS)
        ? schema
        : { ...schema, description: FIELD_WORDS[name] },
    ]),
  )
}

/** What takes or gives files, which have no schema of ours. */
function files(shared: Shared): Record<string, Json> {
  const site = { name: 'site', in: 'path', required: true, schema: { type: 'string' } }
  const id = { name: 'id', in: 'path', required: true, schema: { type: 'string' } }
  const query = (name: string, description: string) => ({
    name,
    in: 'query',
    description,
    schema: { type: 'string' },
  })
  const bytes = { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } }
  const lines = { 'application/x-ndjson': { schema: { type: 'string' } } }
  const answer = (content: Json) => ({ '200': { description: 'OK', content }, ...problems() })
  const json = (schema: z.ZodType) => ({ 'application/json': { schema: shared.of(schema, 'output') } })
  return {
    '/sites/{site}/export.ndjson': {
      get: {
        operationId: 'exportLines',
        summary: 'lines of the whole site, or of the sessions of a question',
        parameters: [
          site,
          query('question', 'lens and selection as JSON'),
          query('gzip', 'present: gzipped'),
        ],
        responses: answer(lines),
      },
    },
    '/sites/{site}/sessions.csv': {
      get: {
        operationId: 'exportSessions',
        summary: 'the sessions of a question as a table, the newest first',
        parameters: [site, query('question', 'lens and selection as JSON')],
        responses: answer({ 'text/csv': { schema: { type: 'string' } } }),
      },
    },
    '/sites/{site}/visitors.txt': {
      get: {
        operationId: 'exportVisitors',
        summary: 'the visitors of the sessions of a question, one a line',
        parameters: [site, query('question', 'lens and selection as JSON')],
        responses: answer({ 'text/plain': { schema: { type: 'string' } } }),
      },
    },
    '/sites/{site}/imports': {
      get: operation(shared, 'listImports', endpoints.listImports),
      post: {
        operationId: 'startImport',
        summary: 'take a file in',
        parameters: [
          site,
          query('name', 'name of the file'),
          query('kind', 'clickstream, csv or log'),
          query('mapping', 'columns of a foreign CSV, as JSON'),
        ],
        requestBody: { required: true, content: bytes },
        responses: answer(json(endpoints.importSchema)),
      },
    },
    '/sites/{site}/imports/preview': {
      post: {
        operationId: 'previewImport',
        summary: 'say what kind of file this is',
        parameters: [site],
        requestBody: { required: true, content: bytes },
        responses: answer(json(endpoints.previewSchema)),
      },
    },
    '/sites/{site}/imports/{id}/problems.ndjson': {
      get: {
        operationId: 'importProblems',
        summary: 'bad lines of an import',
        parameters: [site, id],
        responses: answer(lines),
      },
    },
  }
}
