import type { AnyQuestion } from '@dust-trail/core'
import { registry } from '@dust-trail/core'
import { z } from 'zod'
import type { Endpoint } from './endpoint.ts'
import * as endpoints from './endpoints.ts'
import { FIELD_WORDS } from './field-words.ts'
import { sharedBodies, shortened } from './openapi-sharing.ts'
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
  const once = shortened({ paths, schemas: { Problem: PROBLEM, ...shared.schemas } })
  const named = sharedBodies(once.paths)
  return {
    openapi: '3.1.0',
    info: {
      title: 'Dust Trail',
      version: '1',
      description:
        'Every question that the application asks. A question is answered from what stands at that moment; where its client goes away the work on it stops.',
    },
    servers: [{ url: '/api/v1' }],
    paths: named.paths,
    components: {
      schemas: once.schemas,
      parameters: shared.parameters,
      requestBodies: named.requestBodies,
      responses: { Problem: PROBLEM_ANSWER, ...named.responses },
    },
  }
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
  const site = shared.parameter('site')
  const id = shared.parameter('id')
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
    '/sites/{site}/sessions/{id}/replay.html': {
      get: {
        operationId: 'exportReplay',
        summary: 'one file that replays the session without a network',
        parameters: [site, id],
        responses: answer({ 'text/html': { schema: { type: 'string' } } }),
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
