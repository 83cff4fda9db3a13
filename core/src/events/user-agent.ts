import type { Device } from './line.ts'

/** What kind of device a browser says it is. Common practice, no source: the first pattern that fits wins. */
export function readUserAgent(userAgent: string): Required<Pick<Device, 'class' | 'os' | 'browser'>> {
  const tablet = /iPad|Tablet|Android(?!.*Mobile)/.test(userAgent)
  return {
    class: tablet ? 'tablet' : /Mobi|iPhone|Android/.test(userAgent) ? 'mobile' : 'desktop',
    os: first(userAgent, [
      [/iPhone|iPad/, 'iOS'],
      [/Android/, 'Android'],
      [/Windows/, 'Windows'],
      [/Mac OS/, 'macOS'],
      [/CrOS/, 'ChromeOS'],
      [/Linux/, 'Linux'],
    ]),
    browser: first(userAgent, [
      [/Edg\//, 'Edge'],
      [/OPR\//, 'Opera'],
      [/Firefox|FxiOS/, 'Firefox'],
      [/Chrom(e|ium)|CriOS/, 'Chrome'],
      [/Safari/, 'Safari'],
    ]),
  }
}

function first(text: string, names: [RegExp, string][]): string {
  return names.find(([pattern]) => pattern.test(text))?.[1] ?? 'other'
}
