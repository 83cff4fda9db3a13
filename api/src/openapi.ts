import { z } from 'zod'
import type { Endpoint } from './endpoint.ts'
import * as endpoints from './endpoints.ts'
import { TABLES } from './tables.ts'

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
  },
}

/** The API described by the very schemas that it checks with (OpenAPI 3.1). */
export function openApi(): Json {
  const paths: Record<string, Json> = {}
  for (const [name, one] of Object.entries(endpoints)) {
    if (!isEndpoint(one)) continue
    const path = one.path.replaceAll(/:(\w+)/g, '{$1}')
    paths[path] = { ...paths[path], [one.method.toLowerCase()]: operation(name, one) }
  }
  Object.assign(paths, files())
  return {
    openapi: '3.1.0',
    info: {
      title: 'Dust Trail',
      version: '1',
      description:
        'Every question that the application asks. A question is answered from what stands at that moment; where its client goes away the work on it stops.',
    },
    servers: [{ url: '/api/v1' }],
    paths,
    components: { schemas: { Problem: PROBLEM } },
  }
}

function isEndpoint(value: unknown): value is Endpoint {
  return typeof value === 'object' && value !== null && 'method' in value && 'path' in value
}

function operation(name: string, one: Endpoint): Json {
  const parameters = [...one.path.matchAll(/:(\w+)/g)].map(([, parameter]) => ({
    name: parameter,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }))
  const body = schemaOf(one.body, 'input')
  const asks = one.method === 'POST' || one.method === 'PUT'
  return {
    operationId: name,
    summary: name.replaceAll(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`),
    ...(parameters.length && { parameters }),
    ...(asks && { requestBody: { required: true, content: { 'application/json': { schema: body } } } }),
    responses: {
      '200': {
        description: 'The answer.',
        content: {
          'application/json': { schema: schemaOf(one.answer, 'output') },
          ...(TABLES.has(one) && { 'text/csv': { schema: { type: 'string' } } }),
        },
      },
      ...problems(),
    },
  }
}

function problems(): Json {
  return {
    default: {
      description: 'A problem.',
      content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
    },
  }
}

/** A schema as JSON Schema 2020-12, its own definitions within it. */
function schemaOf(schema: z.ZodType, io: 'input' | 'output'): Json {
  const { $schema: _, ...json } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Json
  return json
}

/** What takes or gives files, which have no schema of ours. */
function files(): Record<string, Json> {
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
  const answer = (content: Json) => ({ '200': { description: 'The answer.', content }, ...problems() })
  const json = (schema: z.ZodType) => ({ 'application/json': { schema: schemaOf(schema, 'output') } })
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
      get: operation('listImports', endpoints.listImports),
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
