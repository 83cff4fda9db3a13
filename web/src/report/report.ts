/* A case or the list of fixes as a document for people who never open Dust Trail. */

/** A share as it stands in a report, with its base. */
export interface Figure {
  label: string
  hits: number
  base: number
}

export interface Entry {
  title: string
  /** what is said of it, a paragraph each */
  words: string[]
  figures: Figure[]
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
dl{display:grid;grid-template-columns:11rem 1fr;gap:.2rem 1rem}dd{margin:0}
article{break-inside:avoid}@media print{body{margin:0}}`

/** One page that needs nothing else: no script, no address that is fetched. */
export function reportHtml({ title, about, entries, definitions }: Report): string {
  const entry = (one: Entry, k: number) => `<article><h2>${k + 1}. ${escaped(one.title)}</h2>
${one.words.map((words) => `<p>${escaped(words)}</p>`).join('\n')}
${one.figures
  .map(
    (figure) =>
      `<p>${escaped(figureWords(figure))}</p><div class="bar"><span style="width:${figure.base ? ((figure.hits / figure.base) * 100).toFixed(1) : 0}%"></span></div>`,
  )
  .join('\n')}
${valuesOf(one)
  .map(([head, value]) => `<p>${escaped(head)}: ${escaped(String(value))}</p>`)
  .join('\n')}
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

const valuesOf = ({ values }: Entry) =>
  Object.entries(values).filter(([, value]) => value !== null && value !== '')

/** Signs that Markdown would take for something else. */
const plain = (text: string) => text.replaceAll(/[\\`*_{}[\]<>#|]/g, '\\$&').replaceAll('\n', ' ')

export function reportMarkdown({ title, about, entries, definitions }: Report): string {
  const lines = [`# ${plain(title)}`, '', plain(about), '']
  entries.forEach((one, k) => {
    lines.push(`## ${k + 1}. ${plain(one.title)}`, '')
    for (const words of one.words) lines.push(plain(words), '')
    for (const figure of one.figures) lines.push(`- ${plain(figureWords(figure))}`)
    for (const [head, value] of valuesOf(one)) lines.push(`- ${plain(head)}: ${plain(String(value))}`)
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

/** The entries as rows of a table. */
export function reportRows({ entries }: Report): Record<string, string | number | null>[] {
  return entries.map(({ title, words, figures, links, values }, k) => ({
    number: k + 1,
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
