/** Clients of the collecting server, in a process of their own: prints what they saw as JSON. */
import { Agent, request } from 'node:http'

const [port, clients, seconds, perSecond] = process.argv.slice(2).map(Number) as [
  number,
  number,
  number,
  number,
]
const agent = new Agent({ keepAlive: true, maxSockets: clients })
const waits: number[] = []
let acknowledged = 0
let failed = 0

/** A batch of a page view and what happened on it, as the script sends it every second. */
function body(client: number, n: number): string {
  const now = Date.now()
  const lines = Array.from({ length: 6 }, (_, i) => ({
    ...{ t: now - 900 + i * 150, id: `${client}.${n}.${i}`, url: `https://shop.example/items/${n % 97}` },
    ...(i === 0
      ? { kind: 'page', title: 'An item' }
      : { kind: 'click', target: { selector: 'main > button', text: 'Buy' }, x: i, y: 40, effect: 'change' }),
  }))
  const items = Array.from({ length: 12 }, (_, i) => ({ at: i * 80, k: 'move', p: [[i * 80, i, i]] }))
  return JSON.stringify({
    ...{ v: 1, site: 'shop', visitor: `visitor-${process.pid}-${client}-${Math.floor(n / 40)}` },
    ...{ document: `document-${process.pid}-${client}-${Math.floor(n / 40)}`, n: n % 40, tab: 't' },
    ...{ startMs: now, sentMs: now, lines, items },
  })
}

function post(text: string): Promise<number> {
  return new Promise((resolve) => {
    const sent = request(
      { port, host: '127.0.0.1', path: '/collect?site=shop', method: 'POST', agent },
      (answer) => {
        answer.resume()
        answer.on('end', () => resolve(answer.statusCode ?? 0))
      },
    )
    sent.on('error', () => resolve(0))
    sent.end(text)
  })
}

const untilMs = performance.now() + seconds * 1000
await Promise.all(
  Array.from({ length: clients }, async (_, client) => {
    const everyMs = perSecond ? (clients / perSecond) * 1000 : 0
    let dueMs = performance.now() + Math.random() * everyMs
    for (let n = 0; performance.now() < untilMs; n++) {
      const early = dueMs - performance.now()
      if (everyMs && early > 0) await new Promise((resolve) => setTimeout(resolve, early))
      dueMs += everyMs
      const start = performance.now()
      const status = await post(body(client, n))
      waits.push(performance.now() - start)
      if (status === 204) acknowledged++
      else failed++
    }
  }),
)
agent.destroy()
waits.sort((a, b) => a - b)
console.log(
  JSON.stringify({
    acknowledged,
    failed,
    rate: acknowledged / seconds,
    p99: waits[Math.floor(waits.length * 0.99)],
  }),
)
