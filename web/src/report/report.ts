/* A case or the list of fixes as a document for people who never open Dust Trail. */

/** A share as it stands in a report, with its base. */
export interface Figure {
  label: string
  hits: number
  base: number
}

/** A table as it stands in a report: cells as they read. */
export interface Grid {
  title: string
  heads: string[]
  rows: string[][]
}

/** A share over time: a bar for each part. */
export interface Trend {
  parts: { label: string; hits: number; base: number }[]
}

export interface Entry {
  title: string
  /** under which it stands with others; "" = none */
  group?: string
  /** what is said of it, a paragraph each */
  words: string[]
  figures: Figure[]
  /** what stands there word for word: messages, stacks */
  details?: { label: string; text: string }[] | undefined
  grid?: Grid | undefined
  trend?: Trend | undefined
  /** where it is seen again */
  links: { label: string; address: string }[]
  /** further columns of the table, by head */
  values: Record<string, string | number | null>
}

export interface Report {
  title: string
  /** of which site and which days it speaks, and when it was made */
  about: string
  entries: Entry[]
  /** what its words and numbers mean */
  definitions: [term: string, means: string][]
}

const share = ({ hits, base }: Figure) => (base ? `${((hits / base) * 100).toFixed(1)} %` : '–')
const figureWords = (figure: Figure) =>
  `${figure.label}: ${share(figure)}, ${figure.hits.toLocaleString('en-GB')} of ${figure.base.toLocaleString('en-GB')}`

/** Text as HTML: what is in it stands there as it is, whoever wrote it. */
export function escaped(text: string): string {
  return text.replaceAll(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`)
}

const STYLE = `body{font:15px/1.5 system-ui,sans-serif;color:#18211d;max-width:46rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.6rem;margin-bottom:0}h2{font-size:1.1rem;margin:1.6rem 0 .2rem}
.about,dt{color:#55615a}p{margin:.3rem 0}a{color:#1f5c4d}
.bar{height:8px;background:#d9ded6;margin:.2rem 0 .4rem}.bar span{display:block;height:8px;background:#1f5c4d}
table{border-collapse:collapse;margin:.4rem 0;width:100%}th,td{border-bottom:1px solid #d9ded6;padding:.15rem .6rem .15rem 0;text-align:left;vertical-align:top}
caption{text-align:left;color:#55615a}svg{display:block;width:100%;height:56px;margin:.4rem 0 0}
pre{white-space:pre-wrap;background:#f1f3ee;padding:.5rem;margin:.2rem 0}
dl{display:grid;grid-template-columns:11rem 1fr;gap:.2rem 1rem}dd{margin:0}
article{break-inside:avoid}@media print{body{margin:0}}`

/** One page that needs nothing else: no script, no address that is fetched. */
export function reportHtml({ title, about, entries, definitions }: Report): string {
  const entry = (
    one: Entry,
    k: number,
  ) => `${headingOf(entries, k) ? `<h1>${escaped(headingOf(entries, k)!)}</h1>\n` : ''}<article><h2>${k + 1}. ${escaped(one.title)}</h2>
${one.words.map((words) => `<p>${escaped(words)}</p>`).join('\n')}
${one.figures
  .map(
    (figure) =>
      `<p>${escaped(figureWords(figure))}</p><div class="bar"><span style="width:${figure.base ? ((figure.hits / figure.base) * 100).toFixed(1) : 0}%"></span></div>`,
  )
  .join('\n')}
${one.trend ? trendHtml(one.trend) : ''}${one.grid ? gridHtml(one.grid) : ''}${valuesOf(one)
    .map(([head, value]) => `<p>${escaped(head)}: ${escaped(String(value))}</p>`)
    .join('\n')}
${(one.details ?? []).map(({ label, text }) => `<p>${escaped(label)}</p><pre>${escaped(text)}</pre>`).join('\n')}
${one.links.map(({ label, address }) => `<p><a href="${escaped(address)}">${escaped(label)}</a></p>`).join('\n')}
</article>`
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title><style>${STYLE}</style></head>
<body><h1>${escaped(title)}</h1><p class="about">${escaped(about)}</p>
${entries.map(entry).join('\n')}
<h2>What the words mean</h2><dl>${definitions.map(([term, means]) => `<dt>${escaped(term)}</dt><dd>${escaped(means)}</dd>`).join('')}</dl>
</body></html>
`
}

/** The heading above an entry: that of its group, where the one before stands in another. */
function headingOf(entries: readonly Entry[], k: number): string | undefined {
  const group = entries[k]!.group ?? ''
  return group && group !== (entries[k - 1]?.group ?? '') ? group : undefined
}

function gridHtml({ title, heads, rows }: Grid): string {
  const line = (cells: string[], tag: 'th' | 'td') =>
    `<tr>${cells.map((cell) => `<${tag}>${escaped(cell)}</${tag}>`).join('')}</tr>`
  return `<table><caption>${escaped(title)}</caption>${line(heads, 'th')}${rows.map((row) => line(row, 'td')).join('')}</table>\n`
}

/** Bars as high as the share, with what each stands for in words. */
function trendHtml({ parts }: Trend): string {
  const shareOf = ({ hits, base }: { hits: number; base: number }) => (base ? hits / base : 0)
  const most = Math.max(...parts.map(shareOf), Number.MIN_VALUE)
  const step = 300 / Math.max(1, parts.length)
  const bars = parts.map((part, k) => {
    const height = Math.max(1, (shareOf(part) / most) * 54)
    return `<rect x="${(k * step).toFixed(1)}" y="${(56 - height).toFixed(1)}" width="${Math.max(1, step - 2).toFixed(1)}" height="${height.toFixed(1)}" fill="#1f5c4d"><title>${escaped(figureWords(part))}</title></rect>`
  })
  const [first, last] = [parts[0], parts.at(-1)]
  const ends =
    first && last ? `<p class="about">${escaped(figureWords(first))} … ${escaped(figureWords(last))}</p>` : ''
  return `<svg viewBox="0 0 300 56" preserveAspectRatio="none" role="img">${bars.join('')}</svg>${ends}\n`
}

const valuesOf = ({ values }: Entry) =>
  Object.entries(values).filter(([, value]) => value !== null && value !== '')

/** Signs that Markdown would take for something else. */
const plain = (text: string) => text.replaceAll(/[\\`*_{}[\]<>#|]/g, '\\$&').replaceAll('\n', ' ')

export function reportMarkdown({ title, about, entries, definitions }: Report): string {
  const lines = [`# ${plain(title)}`, '', plain(about), '']
  entries.forEach((one, k) => {
    const heading = headingOf(entries, k)
    if (heading) lines.push(`# ${plain(heading)}`, '')
    lines.push(`## ${k + 1}. ${plain(one.title)}`, '')
    for (const words of one.words) lines.push(plain(words), '')
    for (const figure of one.figures) lines.push(`- ${plain(figureWords(figure))}`)
    for (const part of one.trend?.parts ?? []) lines.push(`- ${plain(figureWords(part))}`)
    if (one.grid) lines.push(...gridMarkdown(one.grid))
    for (const [head, value] of valuesOf(one)) lines.push(`- ${plain(head)}: ${plain(String(value))}`)
    for (const { label, text } of one.details ?? []) lines.push('', plain(label), '', ...fenced(text), '')
    for (const { label, address } of one.links) lines.push(`- [${plain(label)}](<${address}>)`)
    lines.push('')
  })
  lines.push(
    '## What the words mean',
    '',
    ...definitions.map(([term, means]) => `- **${plain(term)}**: ${plain(means)}`),
  )
  return `${lines.join('\n')}\n`
}

/** A block of code; its fence is longer than any run of backticks within. */
function fenced(text: string): string[] {
  const longest = Math.max(2, ...[...text.matchAll(/`+/g)].map(([run]) => run.length))
  const fence = '`'.repeat(longest + 1)
  return [fence, text, fence]
}

function gridMarkdown({ title, heads, rows }: Grid): string[] {
  const line = (cells: string[]) => `| ${cells.map(plain).join(' | ')} |`
  return ['', plain(title), '', line(heads), line(heads.map(() => '---')), ...rows.map(line), '']
}

/** The entries as rows of a table. */
export function reportRows({ entries }: Report): Record<string, string | number | null>[] {
  return entries.map(({ title, group, words, figures, links, values }, k) => ({
    number: k + 1,
    ...(group && { group }),
    title,
    words: words.join(' '),
    ...Object.fromEntries(
      figures.flatMap(({ label, hits, base }) => [
        [`${label}, sessions`, hits],
        [`${label}, of`, base],
      ]),
    ),
    ...values,
    link: links[0]?.address ?? '',
  }))
}
