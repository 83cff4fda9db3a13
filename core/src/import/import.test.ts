import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { KINDS } from '../events/line.ts'
import { parseCombinedLog, readLogEntry } from './access-log.ts'
import { csvDelimiter, describeGuess, guessKind } from './guess.ts'
import { proposeMapping, readRecord } from './read-csv.ts'
import { readJsonLine, readLine } from './read-line.ts'

const page = { visitor: 'v', t: 0, kind: 'page', url: '/' }
const click = { visitor: 'v', t: 0, kind: 'click', target: { selector: '#a' } }

const named = () => 'x'

describe('readLine', () => {
  // The contract's own table of kinds and fields, see docs/clickstream.md.
  const valid: object[] = [
    {
      ...page,
      title: 'T',
      load: 12.5,
      status: 404,
      height: 900,
      navigation: 'history',
      results: 0,
      tab: 'a',
      returning: true,
    },
    { visitor: 'v', t: 1, kind: 'leave', ms: 5, loaded: false },
    { ...click, x: 1.5, y: 2, rx: 0, ry: 1, effect: 'navigate' },
    { ...click, kind: 'input', label: 'L', length: 0, corrections: 2, ms: 3 },
    { ...click, kind: 'submit', button: '#b', ok: false, explained: true },
    { visitor: 'v', t: 1, kind: 'scroll', depth: 0.5, top: 10 },
    { ...click, kind: 'seen', y: 5 },
    { visitor: 'v', t: 1, kind: 'hide' },
    { visitor: 'v', t: 1, kind: 'show' },
    { visitor: 'v', t: 1, kind: 'out' },
    { visitor: 'v', t: 1, kind: 'error', message: 'm', source: 's', line: 1, column: 2, stack: 'x' },
    { visitor: 'v', t: 1, kind: 'request', method: 'GET', path: '/a', status: 0, ms: 4 },
    { visitor: 'v', t: 1, kind: 'freeze', ms: 300 },
    { visitor: 'v', t: 1, kind: 'gesture', name: 'zoom', x: 1, y: 2 },
    {
      visitor: 'v',
      t: 1,
      kind: 'action',
      name: 'buy',
      value: 3.5,
      currency: 'EUR',
      props: { a: 'b', n: 1, f: true },
    },
    { visitor: 'v', t: 1, kind: 'signal', name: 'stuck' },
    { visitor: 'v', t: 1, kind: 'variant', experiment: 'e', variant: 'b' },
    { visitor: 'v', t: 1, kind: 'answer', question: 'q', score: 4, text: 't' },
    { visitor: 'v', t: 1, kind: 'rest', ms: 1200, x: 1, y: 2, target: { selector: '#a' } },
  ]
  it('takes an example of every kind', () => {
    expect(valid.map((line) => readLine(line).problem)).toEqual(valid.map(() => undefined))
    expect(new Set(valid.map((line) => (line as { kind: string }).kind))).toEqual(new Set(KINDS))
  })

  const invalid: [field: string, line: unknown][] = [
    ['', 7],
    ['', null],
    ['', []],
    ['', 'text'],
    ['visitor', { ...page, visitor: undefined }],
    ['visitor', { ...page, visitor: '' }],
    ['visitor', { ...page, visitor: 7 }],
    ['visitor', { ...page, visitor: 'x'.repeat(129) }],
    ['t', { ...page, t: undefined }],
    ['t', { ...page, t: -1 }],
    ['t', { ...page, t: 1.5 }],
    ['t', { ...page, t: 'noon' }],
    ['t', { ...page, t: '2026-01-01' }],
    ['t', { ...page, t: '2026-01-01T10:00:00' }],
    ['t', { ...page, t: '2026-13-01T10:00:00Z' }],
    ['kind', { ...page, kind: undefined }],
    ['kind', { ...page, kind: 'view' }],
    ['kind', { ...page, kind: 'Page' }],
    ['session', { ...page, session: '' }],
    ['session', { ...page, session: 9 }],
    ['id', { ...page, id: '' }],
    ['id', { ...page, id: 'x'.repeat(129) }],
    ['url', { ...page, url: undefined }],
    ['url', { ...page, url: 5 }],
    ['url', { ...page, url: `/${'x'.repeat(2048)}` }],
    ['referrer', { ...page, referrer: {} }],
    ['country', { ...page, country: 'irl' }],
    ['country', { ...page, country: 'ie' }],
    ['device.class', { ...page, device: { class: 'watch' } }],
    ['device.width', { ...page, device: { width: 0 } }],
    ['device.width', { ...page, device: { width: 20_001 } }],
    ['device.height', { ...page, device: { height: 10.5 } }],
    ['device.os', { ...page, device: { os: 'x'.repeat(41) } }],
    ['device.browser', { ...page, device: { browser: 4 } }],
    ['campaign.source', { ...page, campaign: { source: 1 } }],
    ['props.a', { ...page, props: { a: {} } }],
    ['tab', { ...page, tab: 'x'.repeat(65) }],
    ['returning', { ...page, returning: 'yes' }],
    ['title', { ...page, title: 'x'.repeat(501) }],
    ['load', { ...page, load: -1 }],
    ['status', { ...page, status: 600 }],
    ['status', { ...page, status: 200.5 }],
    ['height', { ...page, height: 0 }],
    ['navigation', { ...page, navigation: 'jump' }],
    ['results', { ...page, results: -1 }],
    ['target', { ...click, target: undefined }],
    ['target.selector', { ...click, target: {} }],
    ['target.selector', { ...click, target: { selector: '' } }],
    ['target.text', { ...click, target: { selector: 'a', text: 'x'.repeat(81) } }],
    ['target.interactive', { ...click, target: { selector: 'a', interactive: 1 } }],
    ['target.w', { ...click, target: { selector: 'a', w: -1 } }],
    ['x', { ...click, x: '1' }],
    ['rx', { ...click, rx: 1.01 }],
    ['ry', { ...click, ry: -0.01 }],
    ['effect', { ...click, effect: 'boom' }],
    ['target', { visitor: 'v', t: 0, kind: 'input' }],
    ['target', { visitor: 'v', t: 0, kind: 'submit' }],
    ['target', { visitor: 'v', t: 0, kind: 'seen' }],
    ['length', { ...click, kind: 'input', length: 1.2 }],
    ['corrections', { ...click, kind: 'input', corrections: -1 }],
    ['ok', { ...click, kind: 'submit', ok: 'no' }],
    ['depth', { visitor: 'v', t: 0, kind: 'scroll' }],
    ['depth', { visitor: 'v', t: 0, kind: 'scroll', depth: 1.5 }],
    ['message', { visitor: 'v', t: 0, kind: 'error' }],
    ['line', { visitor: 'v', t: 0, kind: 'error', message: 'm', line: -1 }],
    ['path', { visitor: 'v', t: 0, kind: 'request' }],
    ['method', { visitor: 'v', t: 0, kind: 'request', path: '/', method: 'x'.repeat(11) }],
    ['ms', { visitor: 'v', t: 0, kind: 'freeze' }],
    ['ms', { visitor: 'v', t: 0, kind: 'leave', ms: -5 }],
    ['name', { visitor: 'v', t: 0, kind: 'gesture' }],
    ['target', { visitor: 'v', t: 0, kind: 'rest', ms: 1200 }],
    ['ms', { visitor: 'v', t: 0, kind: 'rest', target: { selector: '#a' } }],
    ['name', { visitor: 'v', t: 0, kind: 'action', name: '' }],
    ['name', { visitor: 'v', t: 0, kind: 'signal' }],
    ['value', { visitor: 'v', t: 0, kind: 'action', name: 'a', value: '5' }],
    ['currency', { visitor: 'v', t: 0, kind: 'action', name: 'a', currency: 'eur' }],
    ['experiment', { visitor: 'v', t: 0, kind: 'variant', variant: 'b' }],
    ['variant', { visitor: 'v', t: 0, kind: 'variant', experiment: 'e' }],
    ['question', { visitor: 'v', t: 0, kind: 'answer' }],
    ['score', { visitor: 'v', t: 0, kind: 'answer', question: 'q', score: 'high' }],
  ]
  it.each(invalid)('names %s where it is wrong (%#)', (field, line) => {
    // As it would come from a file: what is undefined is not there.
    expect(readLine(JSON.parse(JSON.stringify(line))).problem?.field).toBe(field)
  })

  it('keeps fields it does not know as properties, and says what is no JSON', () => {
    const { line } = readJsonLine(
      '{"visitor":"v","t":0,"kind":"hide","colour":"red","deep":{"a":1},"props":{"colour":"blue"}}',
    )
    expect(line).toEqual({ visitor: 'v', t: 0, kind: 'hide', props: { colour: 'blue', deep: '{"a":1}' } })
    expect(readJsonLine('{').problem).toEqual({ field: '', reason: 'is not JSON' })
  })

  it('reads what it has read before as the same', () => {
    fc.assert(
      fc.property(fc.constantFrom(...valid), (raw) => {
        const once = readLine(raw).line
        expect(readLine(JSON.parse(JSON.stringify(once))).line).toEqual(once)
      }),
    )
  })
})

describe('combined log', () => {
  const cases = casesOf<{ line: string }, Record<string, unknown>>('web', 'combined_log_line')
  it.each(cases)('reads the fields: $id ($source)', ({ inputs, expected }) => {
    const entry = parseCombinedLog(inputs.line)!
    expect({ ...entry, epoch_seconds: entry.epochSeconds, user_agent: entry.userAgent }).toMatchObject(
      Object.fromEntries(Object.entries(expected).filter(([name]) => name !== 'time_utc')),
    )
    expect(new Date(entry.epochSeconds * 1000).toISOString()).toBe(
      (expected['time_utc'] as string).replace('Z', '.000Z'),
    )
  })
  it('says undefined for another form', () => {
    expect(parseCombinedLog('hello')).toBeUndefined()
  })

  const entry = parseCombinedLog(
    '192.0.2.7 - - [29/Feb/2024:23:59:59 +0000] "GET /a?b=1 HTTP/1.1" 200 5 "-" "Mozilla/5.0 (Windows NT 10.0) Firefox/128.0"',
  )!
  it.each([
    ['a robot', { userAgent: 'SomeBot/1.0' }],
    ['a robot', { userAgent: null }],
    ['an asset', { path: '/x/site.css?v=1' }],
    ['not a page request', { method: 'POST' }],
    ['a redirect or empty answer', { status: 301 }],
  ] as const)('leaves out %s', (skip, own) => {
    expect(readLogEntry({ ...entry, ...own }, named)).toEqual({ skip })
  })
  // User agents as browsers and programs send them in November 2026, from memory.
  it.each([
    ['Mozilla/5.0 (compatible; Googlebot/2.1; +http://www.google.com/bot.html)', 'a robot'],
    ['curl/8.5.0', 'a robot'],
    ['python-requests/2.32.0', 'a robot'],
    [
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1',
      { class: 'mobile', os: 'iOS', browser: 'Safari' },
    ],
    [
      'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36 Edg/140.0.0.0',
      { class: 'desktop', os: 'Windows', browser: 'Edge' },
    ],
    [
      'Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.0 Mobile/15E148 Safari/604.1',
      { class: 'tablet', os: 'iOS', browser: 'Safari' },
    ],
    [
      'Mozilla/5.0 (X11; CrOS x86_64 14541.0.0) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/139.0.0.0 Safari/537.36',
      { class: 'desktop', os: 'ChromeOS', browser: 'Chrome' },
    ],
  ])('reads the user agent %s', (userAgent, expected) => {
    const read = readLogEntry({ ...entry, userAgent }, named)
    expect('skip' in read ? read.skip : read.line!.device).toEqual(expected)
  })
  it('makes a page view of the rest, and never keeps the address', () => {
    const asked: string[] = []
    const kept = readLogEntry(entry, (who) => (asked.push(who), 'abc'))
    expect(kept).toMatchObject({ line: { visitor: 'log-abc' } })
    expect(asked).toEqual([`${entry.host} ${entry.userAgent}`])
    const read = readLogEntry(entry, named)
    expect(read).toMatchObject({
      line: { kind: 'page', url: '/a?b=1', status: 200, device: { class: 'desktop', browser: 'Firefox' } },
    })
    expect(JSON.stringify(read)).not.toContain('192.0.2.7')
  })
})

describe('CSV', () => {
  it('reads its own columns with dotted names', () => {
    const header = ['visitor', 't', 'kind', 'target.selector', 'target.interactive', 'rx']
    expect(readRecord(header, ['v', '5', 'click', '#a', 'true', '0.5'], proposeMapping(header)).line).toEqual(
      {
        visitor: 'v',
        t: 5,
        kind: 'click',
        target: { selector: '#a', interactive: true },
        rx: 0.5,
      },
    )
  })
  it('proposes a mapping for a foreign header', () => {
    expect(proposeMapping(['user_id', 'timestamp', 'event_name', 'page_url', 'other'])).toEqual({
      columns: { visitor: 'user_id', t: 'timestamp', name: 'event_name', url: 'page_url' },
      constants: { kind: 'action' },
    })
    expect(proposeMapping(['Visitor ID', 'Time', 'URL']).constants).toEqual({ kind: 'page' })
  })
  it.each([
    ['1700000000', 1_700_000_000_000],
    ['1700000000000', 1_700_000_000_000],
    ['2023-11-14 22:13:20', 1_700_000_000_000],
    ['2023-11-14T23:13:20+01:00', 1_700_000_000_000],
  ])('reads the time %s', (text, ms) => {
    const header = ['user', 'time', 'url']
    expect(readRecord(header, ['v', text, '/'], proposeMapping(header)).line?.t).toBe(ms)
  })
  it('keeps columns that have no field as properties, and takes an unnamed action on a page for a view of it', () => {
    const header = ['user', 'time', 'event', 'url', 'plan']
    const read = (event: string) =>
      readRecord(header, ['v', '1700000000', event, '/', 'pro'], proposeMapping(header)).line
    expect(read('buy')).toMatchObject({ kind: 'action', name: 'buy', props: { plan: 'pro' } })
    expect(read('')).toMatchObject({ kind: 'page', url: '/', props: { plan: 'pro' } })
  })
  it('says where cells are missing and which cannot be read', () => {
    const header = ['user', 'time', 'url']
    expect(readRecord(header, ['v'], proposeMapping(header)).problem?.reason).toContain('1 cells')
    expect(readRecord(header, ['v', 'soon', '/'], proposeMapping(header)).problem?.field).toBe('t')
  })
})

describe('csvDelimiter', () => {
  it.each([
    ['visitor,t,url', ','],
    ['visitor;t;url', ';'],
    ['visitor\tt\turl', '\t'],
    ['"a;b;c;d",t,url', ','],
    ['"a ""b;"" c;",t;url;kind', ';'],
    ['visitor', ','],
    ['', ','],
  ])('of %j is %j', (header, delimiter) => {
    expect(csvDelimiter(header)).toBe(delimiter)
  })
})

describe('guessKind', () => {
  it.each([
    ['clickstream', '{"a":1}'],
    ['csv', 'a,b\n1,2'],
    ['log', '127.0.0.1 - - [10/Oct/2000:13:55:36 -0700] "GET / HTTP/1.0" 200 2 "-" "-"'],
    [undefined, '<html>'],
    [undefined, ''],
  ])('%s', (kind, text) => {
    expect(guessKind(text.split('\n'))).toBe(kind)
  })
  it('says it in words', () => {
    expect(describeGuess(['[{"a":1}]'])).toContain('JSON array')
    expect(describeGuess(['<html>'])).toContain('HTML')
  })
})
