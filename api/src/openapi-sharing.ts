/* A description of an API made shorter, with the same said: what is alike is written once and referred to. */

type Json = Record<string, unknown>

/** The same, with all that is alike written once. @param described  with a schema "Problem", which keeps its name */
export function shortened(described: Described): Described {
  const whole = merged(described)
  const first = tidied(sharedOnce(whole.paths, whole.schemas))
  // What was written out may have come to say the same as something else.
  return tidied(sharedOnce(first.paths, first.schemas))
}

/** A shorter part is written out as quickly as it is referred to. */
const WORTH_SHARING = 70

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

/** What several endpoints are sent, or answer, alike is written once as a whole. */
export function sharedBodies(
  paths: Record<string, Json>,
): Record<'paths' | 'requestBodies' | 'responses', Record<string, Json>> {
  const times = new Map<string, number>()
  const each = (change: (body: unknown, of: 'requestBodies' | 'responses') => unknown) =>
    Object.fromEntries(
      Object.entries(paths).map(([path, methods]) => [
        path,
        Object.fromEntries(
          Object.entries(methods).map(([method, own]) => {
            if (method === 'parameters') return [method, own]
            const { requestBody, responses, ...rest } = own as Json & { responses: Json }
            return [
              method,
              {
                ...rest,
                ...(requestBody !== undefined && { requestBody: change(requestBody, 'requestBodies') }),
                responses: { ...responses, '200': change(responses['200'], 'responses') },
              },
            ]
          }),
        ),
      ]),
    )
  each((body) => {
    const text = JSON.stringify(body)
    times.set(text, (times.get(text) ?? 0) + 1)
    return body
  })
  const made = { requestBodies: {} as Record<string, Json>, responses: {} as Record<string, Json> }
  const names = new Map<string, string>()
  const shortened = each((body, of) => {
    const text = JSON.stringify(body)
    if (times.get(text)! < 2) return body
    let name = names.get(text)
    if (name === undefined) {
      names.set(text, (name = `B${names.size}`))
      made[of][name] = body as Json
    }
    return { $ref: `#/components/${of}/${name}` }
  })
  return { paths: shortened, ...made }
}

/** The parts of a description that refer to each other. */
export interface Described {
  paths: Record<string, Json>
  schemas: Record<string, Json>
}

/** An alias of an alias: no more than so many are followed, so that a circle ends. */
const LONGEST_CHAIN = 12

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

const REFERRED = new RegExp(`"${SCHEMAS}([^"]+)"`, 'g')

/**
 * The same with schemas as one that say the same in circles: conditions hold conditions, and each place where they are asked
 * for has them anew. Those that look alike are taken for one as long as what they refer to is taken for one as well.
 */
function merged(described: Described): Described {
  const { paths, schemas } = withoutAliases(described)
  const parts = Object.entries(schemas).map(([name, schema]) => {
    const text = JSON.stringify(schema)
    const refers = [...text.matchAll(REFERRED)].map(([, other]) => other!)
    return { name, refers, text: text.replaceAll(REFERRED, '') }
  })
  const numbered = (key: (part: (typeof parts)[number]) => string) => {
    const numbers = new Map<string, number>()
    return new Map(
      parts.map((part) => {
        const own = key(part)
        if (!numbers.has(own)) numbers.set(own, numbers.size)
        return [part.name, numbers.get(own)!]
      }),
    )
  }
  const countOf = (classes: ReadonlyMap<string, number>) => new Set(classes.values()).size
  let classes = numbered(({ text }) => text)
  for (let before = 0; before < countOf(classes);) {
    before = countOf(classes)
    const known = classes
    classes = numbered(({ name, refers }) =>
      [known.get(name), ...refers.map((other) => known.get(other))].join(),
    )
  }
  const first = new Map<number, string>()
  for (const { name } of parts) {
    const own = classes.get(name)!
    if (!first.has(own)) first.set(own, name)
  }
  const instead = (name: string) => first.get(classes.get(name) ?? -1) ?? name
  const kept = Object.fromEntries(Object.entries(schemas).filter(([name]) => instead(name) === name))
  return referring({ paths, schemas: kept }, instead)
}

/** The same without schemas that are nothing but another one. */
function withoutAliases({ paths, schemas }: Described): Described {
  const target = (name: string, steps = 0): string => {
    const { $ref, ...more } = schemas[name] ?? {}
    const isAlias = typeof $ref === 'string' && !Object.keys(more).length && steps < LONGEST_CHAIN
    return isAlias ? target($ref.slice(SCHEMAS.length), steps + 1) : name
  }
  const kept = Object.fromEntries(Object.entries(schemas).filter(([name]) => target(name) === name))
  return referring({ paths, schemas: kept }, target)
}

/** The same with references to schemas going to others. */
function referring(described: Described, instead: (name: string) => string): Described {
  return rewritten(described, (one) =>
    typeof one['$ref'] === 'string' && one['$ref'].startsWith(SCHEMAS)
      ? { ...one, $ref: SCHEMAS + instead(one['$ref'].slice(SCHEMAS.length)) }
      : one,
  )
}

/** The same with schemas named by number, but for those that have a name for people. */
function shortNamed(described: Described): Described {
  const names = new Map(
    Object.keys(described.schemas).map((name, k) => [
      name,
      /^(Part|Same|Whole|S\d+$)/.test(name) ? `S${k}` : name,
    ]),
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
