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
  it('as rows has each figure with its base', () => {
    expect(reportRows(report)[0]).toMatchObject({
      ...{ number: 1, 'met it, sessions': 1234, 'met it, of': 5000, price: 18 },
      words: `${hostile} Second.`,
    })
  })
})
