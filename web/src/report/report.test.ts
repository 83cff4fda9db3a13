// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import type { Report } from './report.ts'
import { reportHtml, reportMarkdown, reportRows } from './report.ts'

const hostile = '<img src=x onerror=alert(1)> "&\' [a](javascript:b) *c*'
const report: Report = {
  title: hostile,
  about: 'Shop, 1 Jun – 28 Jun',
  entries: [
    {
      title: hostile,
      words: [hostile, 'Second.'],
      figures: [{ label: 'met it', hits: 1234, base: 5000 }],
      links: [{ label: hostile, address: 'http://127.0.0.1:4180/pages?page="><script>' }],
      values: { price: 18, owner: '', effort: null },
    },
    { title: 'Nobody', words: [], figures: [{ label: 'met it', hits: 0, base: 0 }], links: [], values: {} },
  ],
  definitions: [['met it', hostile]],
}

describe('a report', () => {
  it('as a page holds what people wrote as text, and nothing that runs or is fetched', () => {
    const document = new DOMParser().parseFromString(reportHtml(report), 'text/html')
    expect(document.querySelectorAll('img,script,iframe,link,[onerror]')).toHaveLength(0)
    expect(document.querySelector('h1')!.textContent).toBe(hostile)
    expect(document.querySelector('article p')!.textContent).toBe(hostile)
    expect(document.querySelector('a')!.getAttribute('href')).toBe(report.entries[0]!.links[0]!.address)
    expect(document.body.textContent).toContain('met it: 24.7 %, 1,234 of 5,000')
    expect(document.body.textContent).toContain('met it: –, 0 of 0')
    expect(document.body.textContent).not.toContain('owner')
  })
  it('as Markdown says the same, whatever signs are in it', () => {
    const text = reportMarkdown(report)
    expect(text).toContain('## 1. \\<img src=x onerror=alert(1)\\> "&\' \\[a\\](javascript:b) \\*c\\*')
    expect(text).toContain('- met it: 24.7 %, 1,234 of 5,000')
    expect(text).toContain('- price: 18')
  })
  it('shows what marks show, under their headings, and what broke word for word', () => {
    const entry = (more: Partial<Report['entries'][number]>) => ({
      ...{ title: 'One', words: [], figures: [], links: [], values: {}, ...more },
    })
    const shown: Report = {
      ...report,
      entries: [
        entry({ group: hostile, grid: { title: 'Spots', heads: ['Page'], rows: [[hostile], ['a | b']] } }),
        entry({
          group: hostile,
          trend: {
            parts: [
              { label: '1 Jun', hits: 1, base: 4 },
              { label: '2 Jun', hits: 0, base: 0 },
            ],
          },
        }),
        entry({ group: 'Second', details: [{ label: 'Error', text: `${hostile}\n\`\`\` at x` }] }),
      ],
    }
    const document = new DOMParser().parseFromString(reportHtml(shown), 'text/html')
    expect(document.querySelectorAll('img,script,iframe,link,[onerror]')).toHaveLength(0)
    expect([...document.querySelectorAll('h1')].map(({ textContent }) => textContent)).toEqual([
      ...[hostile, hostile, 'Second'],
    ])
    expect([...document.querySelectorAll('td')].map(({ textContent }) => textContent)).toEqual([
      ...[hostile, 'a | b'],
    ])
    const heights = [...document.querySelectorAll('rect')].map((bar) => bar.getAttribute('height'))
    expect(heights).toEqual(['54.0', '1.0'])
    expect(document.querySelector('pre')!.textContent).toBe(`${hostile}\n\`\`\` at x`)
    const text = reportMarkdown(shown)
    expect(text).toContain('| a \\| b |')
    expect(text).toContain('- 1 Jun: 25.0 %, 1 of 4')
    expect(text).toContain(`\n\`\`\`\`\n${hostile}\n\`\`\` at x\n\`\`\`\`\n`)
    expect(reportRows(shown)[2]).toMatchObject({ number: 3, group: 'Second' })
  })
  it('as rows has each figure with its base', () => {
    expect(reportRows(report)[0]).toMatchObject({
      ...{ number: 1, 'met it, sessions': 1234, 'met it, of': 5000, price: 18 },
      words: `${hostile} Second.`,
    })
  })
})
