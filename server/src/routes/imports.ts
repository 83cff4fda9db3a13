import { createReadStream, createWriteStream, existsSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import {
  getImport,
  importSchema,
  listImports,
  mappingSchema,
  previewSchema,
  stopImport,
} from '@dust-trail/api'
import type { Import } from '@dust-trail/api'
import { csvDelimiter, describeGuess, FILE_KINDS, guessKind, proposeMapping } from '@dust-trail/core'
import { parse } from 'csv-parse/sync'
import { Router } from 'express'
import type { Request } from 'express'
import { z } from 'zod'
import type { Engines } from '../engine/engines.ts'
import type { ImportJobs } from '../import/jobs.ts'
import { firstLines } from '../import/read-file.ts'
import { invalid, ProblemError } from '../problem.ts'
import type { ImportRow } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

const PREVIEW_LINES = 20
/** Problems sent with every look at an import; the rest on asking. */
const SHOWN_PROBLEMS = 20

const uploadSchema = z.object({
  name: z.string().min(1, { error: 'the file needs a name' }).max(255),
  kind: z.enum(FILE_KINDS).optional(),
  mapping: z
    .string()
    .transform((text, context): unknown => {
      try {
        return JSON.parse(text)
      } catch {
        context.addIssue({ code: 'custom', message: 'is not JSON' })
        return z.NEVER
      }
    })
    .pipe(mappingSchema)
    .optional(),
})

/** Files come as the body of a request, as they are; what they are called and how to read them is in its address. */
export function importRoutes(
  engines: Engines,
  jobs: ImportJobs,
  folder: string,
  mostBytes = Infinity,
): Router {
  const router = Router()

  router.post('/sites/:site/imports/preview', async (request, response) => {
    siteOf(engines, request.params)
    await received(request, folder, mostBytes, async (file) => {
      const lines = await firstLines(file, PREVIEW_LINES)
      const kind = guessKind(lines) ?? null
      const header = kind === 'csv' ? headerOf(lines) : []
      const mapping = kind === 'csv' ? proposeMapping(header) : null
      response.json(previewSchema.parse({ kind, looksLike: describeGuess(lines), lines, header, mapping }))
      return 'done'
    })
  })

  router.post('/sites/:site/imports', async (request, response) => {
    const site = siteOf(engines, request.params)
    const asked = uploadSchema.safeParse(request.query)
    if (!asked.success) throw invalid(asked.error, 'The upload')
    await received(request, folder, mostBytes, async (file) => {
      const lines = await firstLines(file, PREVIEW_LINES)
      const kind = asked.data.kind ?? guessKind(lines)
      if (!kind)
        throw new ProblemError(
          400,
          'unknown-file',
          `The file looks like ${describeGuess(lines)}.`,
          'Give a clickstream (NDJSON, one object a line), a CSV with a header, or a web server’s log in the combined format; each may be gzipped.',
        )
      const mapping = asked.data.mapping ?? null
      const row = await jobs.start(site, { name: asked.data.name, file, kind, mapping }, Date.now())
      response.status(202).json(importSchema.parse(shown(row)))
      return 'kept'
    })
  })

  handle(router, listImports, async ({ params }) =>
    (await jobs.list(siteOf(engines, params).row.id)).map(shown),
  )
  handle(router, getImport, async ({ params }) =>
    shown(await jobs.get(siteOf(engines, params).row.id, idOf(params, 'such import'))),
  )
  handle(router, stopImport, async ({ params }) => {
    const id = idOf(params, 'such import')
    await jobs.get(siteOf(engines, params).row.id, id)
    jobs.stop(id)
    return { done: true as const }
  })
  router.get('/sites/:site/imports/:id/problems.ndjson', async (request, response) => {
    const row = await jobs.get(siteOf(engines, request.params).row.id, idOf(request.params, 'such import'))
    response.type('application/x-ndjson').attachment(`problems-${row.id}.ndjson`)
    const file = jobs.problemsFile(row)
    // All of them; of imports of earlier versions the first thousand.
    if (existsSync(file)) await pipeline(createReadStream(file), response)
    else response.send(row.problems.map((problem) => `${JSON.stringify(problem)}\n`).join(''))
  })
  return router
}

/** Puts the body into a file of its own; it is taken away again unless it is kept. */
async function received(
  request: Request,
  folder: string,
  most: number,
  use: (file: string) => Promise<'done' | 'kept'>,
): Promise<void> {
  const uploadFolder = await mkdtemp(join(folder, 'import-'))
  const file = join(uploadFolder, 'file')
  let kept = false
  try {
    let bytes = 0
    await pipeline(
      request,
      async function* (parts: AsyncIterable<Buffer>) {
        for await (const part of parts) {
          bytes += part.length
          if (bytes > most)
            throw new ProblemError(
              413,
              'too-large',
              `The file has more than ${Math.round(most / 2 ** 20)} MB.`,
              'Split it and send the parts one after the other, or raise UPLOAD_MB.',
              { budget: true },
            )
          yield part
        }
      },
      createWriteStream(file),
    )
    kept = (await use(file)) === 'kept'
  } finally {
    if (!kept) await rm(uploadFolder, { recursive: true, force: true })
  }
}

function headerOf(lines: readonly string[]): string[] {
  const first = lines[0] ?? ''
  const [header]: string[][] = parse(first, {
    bom: true,
    relax_quotes: true,
    delimiter: csvDelimiter(first),
  })
  return (header ?? []).map((name) => name.trim())
}

function shown(row: ImportRow): Import {
  const { siteId: _, file: __, ...own } = row
  return {
    ...own,
    problems: row.problems.slice(0, SHOWN_PROBLEMS),
    startedMs: Number(row.startedMs),
    endedMs: row.endedMs === null ? null : Number(row.endedMs),
    version: row.version === null ? null : Number(row.version),
  }
}
