/** The player that goes along with a session: in a file, or at a link. Works without a server and without an account. */
import type { DocumentRecording, RecordItem, ReplayFile } from '@dust-trail/core/recording'
import { timeline } from '@dust-trail/core/recording'
import { drawPointer } from '../draw-pointer.ts'
import { filesIn } from '../files.ts'
import { createFrame } from '../frame.ts'
import { Stage } from '../stage.ts'
import { STYLE } from './style.ts'

type Child = Node | string

/** An element with texts as texts, whatever they say. */
function el<Tag extends keyof HTMLElementTagNameMap>(
  tag: Tag,
  attributes: Record<string, string> = {},
  ...children: Child[]
): HTMLElementTagNameMap[Tag] {
  const element = document.createElement(tag)
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value)
  element.append(...children)
  return element
}

function clock(ms: number): string {
  const s = Math.floor(ms / 1000)
  const two = (n: number) => String(n).padStart(2, '0')
  const hours = s >= 3600 ? `${Math.floor(s / 3600)}:` : ''
  const minutes = Math.floor(s / 60) % 60
  return `${hours}${hours ? two(minutes) : minutes}:${two(s % 60)}`
}

/** How long at a time it is looked for moments from which it can go on, and how long not. */
const PREPARE_MS = 12
const REST_MS = 60
const SPEEDS = ['0.5', '1', '2', '4', '8', '16']
const COLOURS = { dust: '#B87A10', click: '#A6452B' }
const textOf = (value: unknown) =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : ''

async function show(file: ReplayFile): Promise<void> {
  document.head.append(el('style', {}, STYLE))
  const began = new Intl.DateTimeFormat('en-GB', {
    ...{ dateStyle: 'medium', timeStyle: 'short' },
    timeZone: file.timeZone,
  }).format(file.startMs)
  const screen = el('div', { id: 'screen' })
  const canvas = el('canvas', { 'aria-hidden': 'true' })
  screen.append(canvas)
  const holder = el('div', { id: 'holder' }, screen)
  const play = el('button', { type: 'button', id: 'play' }, 'Play')
  const speed = el(
    'select',
    { 'aria-label': 'Speed' },
    ...SPEEDS.map((value) => el('option', { value }, `${value}×`)),
  )
  speed.value = '1'
  const idle = el('input', { type: 'checkbox', checked: '' })
  const time = el('span', { id: 'time' })
  const title = el('p', { id: 'title' })
  const slider = el('input', { type: 'range', min: '0', step: '100', 'aria-label': 'Time in the session' })
  const marks = el('div', { id: 'marks', 'aria-hidden': 'true' })
  const side = el('aside', {})
  document.body.append(
    el(
      'main',
      {},
      el('header', {}, el('h1', {}, file.title), el('p', {}, `Began ${began} (${file.timeZone}).`)),
      title,
      holder,
      el('div', { id: 'line' }, marks, slider),
      el('div', { id: 'bar' }, play, time, speed, el('label', {}, idle, ' Skip idle time')),
    ),
    side,
  )

  const documents = file.documents as DocumentRecording[]
  if (!documents.length) {
    holder.replaceChildren(el('p', {}, 'Nothing of how the pages looked is in this recording.'))
    side.append(...lists(file, () => undefined))
    return
  }
  const axis = timeline(documents, file.startMs, file.endMs)
  const frame = await createFrame(screen, {
    ...{ pictureOrigins: file.pictureOrigins, ownOrigin: location.origin, title: 'Recorded page' },
  })
  const contents = new Map(Object.entries(file.files))
  const stage = new Stage(
    frame.contentDocument!,
    file.documents,
    axis.documents,
    (width, height) => {
      frame.style.width = `${width}px`
      frame.style.height = `${height}px`
    },
    (recording) => filesIn(recording, contents, file.pictureOrigins),
  )
  slider.max = String(Math.ceil(axis.durationMs))
  for (const { atMs, kind, signal } of file.moments)
    if (signal) {
      const mark = el('i', { title: `${clock(atMs)} ${kind}` })
      mark.style.left = `${(atMs / axis.durationMs) * 100}%`
      marks.append(mark)
    }

  let now = 0
  let playing = false
  const draw = () => {
    const view = stage.seek(now)
    const scale = Math.min(1, holder.clientWidth / view.width, holder.clientHeight / view.height)
    screen.style.width = `${view.width}px`
    screen.style.height = `${view.height}px`
    screen.style.transform = `translate(-50%, -50%) scale(${scale})`
    drawPointer(canvas, view, COLOURS)
    title.textContent = documents[view.index]!.snapshot.title
    time.textContent = `${clock(now)} of ${clock(axis.durationMs)}`
    slider.value = String(Math.round(now))
    slider.setAttribute('aria-valuetext', time.textContent)
  }
  const seek = (atMs: number) => {
    now = Math.min(axis.durationMs, Math.max(0, atMs))
    draw()
  }
  let before = 0
  const tick = (at: number) => {
    if (!playing) return
    const next = now + (at - before) * Number(speed.value)
    before = at
    const rest = idle.checked && axis.idle.find(({ fromMs, toMs }) => next >= fromMs && next < toMs)
    seek(rest ? rest.toMs : next)
    if (now >= axis.durationMs) toggle()
    else requestAnimationFrame(tick)
  }
  const toggle = () => {
    playing = !playing
    play.textContent = playing ? 'Pause' : 'Play'
    if (!playing) return
    if (now >= axis.durationMs) seek(0)
    before = performance.now()
    requestAnimationFrame(tick)
  }
  play.addEventListener('click', toggle)
  slider.addEventListener('input', () => seek(Number(slider.value)))
  addEventListener('resize', draw)
  addEventListener('keydown', (event) => {
    const isOurs = event.target === document.body || event.target === play
    if (event.key !== ' ' || !isOurs) return
    event.preventDefault()
    toggle()
  })
  side.append(...lists(file, seek))
  draw()
  const prepare = () => {
    const end = performance.now() + PREPARE_MS
    if (stage.prepare(() => performance.now() < end)) setTimeout(prepare, REST_MS)
  }
  setTimeout(prepare, REST_MS)
}

/** What happened beside the picture, each leading to its moment. */
function lists(file: ReplayFile, seek: (atMs: number) => void): HTMLElement[] {
  const row = (atMs: number, strong: string, rest: string, isBad: boolean, more = '') => {
    const button = el(
      'button',
      { type: 'button', ...(isBad && { class: 'bad' }) },
      el('span', {}, clock(Math.max(0, atMs))),
      el('span', {}, el('b', {}, strong), ` ${rest}`, ...(more ? [el('pre', {}, more)] : [])),
    )
    button.addEventListener('click', () => seek(atMs))
    return el('li', {}, button)
  }
  const list = (name: string, rows: HTMLElement[], isOpen: boolean) => {
    const all = el('details', isOpen ? { open: '' } : {})
    all.append(el('summary', {}, `${name} ${rows.length}`), el('ol', {}, ...rows))
    return all
  }
  const since = (t: unknown) => Number(t) - file.startMs
  const told = file.story.map(({ text, atMs }) => row(atMs ?? 0, '', text, false))
  const missing = file.missing.map(({ startMs, fromMs, pieces, whole }) =>
    row(
      since(startMs) + fromMs,
      'missing',
      whole ? 'the page itself never arrived' : `${pieces} pieces of the recording never arrived`,
      true,
    ),
  )
  const moments = file.moments.map(({ atMs, kind, signal, page, label }) =>
    row(atMs, `${signal ? '◆ ' : ''}${kind}`, kind === 'page' ? page : label, signal),
  )
  const errors = file.lines
    .filter(({ kind }) => kind === 'error')
    .map(({ t, message, stack }) => row(since(t), '', textOf(message), true, textOf(stack)))
  const said = file.documents
    .flatMap(({ startMs, items }) =>
      items.flatMap((item) => (item.k === 'console' ? [{ at: since(startMs) + item.at, item }] : [])),
    )
    .map(({ at, item }: { at: number; item: Extract<RecordItem, { k: 'console' }> }) =>
      row(at, item.level, item.text, item.level === 'error'),
    )
  const requests = file.lines
    .filter(({ kind }) => kind === 'request')
    .map(({ t, method, path, status, ms, size }) =>
      row(
        since(t),
        textOf(method),
        `${textOf(path)} · ${textOf(status)} · ${Math.round(Number(ms ?? 0))} ms${size ? ` · ${Math.round(Number(size) / 100) / 10} kB` : ''}`,
        Number(status) === 0 || Number(status) >= 400,
      ),
    )
  return [
    ...(told.length ? [list('What happened', told, true)] : []),
    ...(missing.length ? [list('Missing', missing, true)] : []),
    list('Moments', moments, true),
    list('Errors', errors, false),
    list('Console', said, false),
    list('Requests', requests, false),
  ]
}

void show(JSON.parse(document.getElementById('replay')!.textContent) as ReplayFile)
