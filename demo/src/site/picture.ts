import type { HireItem } from './content/hire.ts'
import type { Night } from './content/nights.ts'

const GROUND: Record<Night['sky'], [string, string]> = {
  meteors: ['#0d1330', '#2b3566'],
  rings: ['#1a1026', '#4a2d4f'],
  galaxy: ['#0a1626', '#243b5c'],
  moon: ['#10151f', '#3a4354'],
  cluster: ['#0b1a2b', '#1f4a5e'],
  aurora: ['#08161c', '#1d4a44'],
}

/** A drawn night sky, always the same for the same number. */
export function picture(sky: Night['sky'], number: number, stars = 46): string {
  const [top, low] = GROUND[sky]
  const at = (k: number, span: number) => {
    const h = Math.imul(k * 2654435761 + number * 40503, 0x45d9f3b)
    return ((Math.imul(h ^ (h >>> 15), 0x2c1b3c6d) >>> 8) / 2 ** 24) * span
  }
  const dots = Array.from(
    { length: stars },
    (_, k) =>
      `<circle cx="${(at(k + 1, 400) | 0) + 0.5}" cy="${(at(k + 101, 190) | 0) + 0.5}" r="${(0.5 + at(k + 211, 1.3)).toFixed(1)}" fill="#f6ecd2"/>`,
  ).join('')
  return `<svg viewBox="0 0 400 240" preserveAspectRatio="xMidYMid slice" role="img" aria-label="Drawing of the night sky"><defs><linearGradient id="sky${number}" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${top}"/><stop offset="1" stop-color="${low}"/></linearGradient></defs><rect width="400" height="240" fill="url(#sky${number})"/>${dots}${subject(sky)}<path d="M0 214 Q70 186 150 206 T300 200 T400 210 V240 H0Z" fill="#0b0d12"/></svg>`
}

function subject(sky: Night['sky']): string {
  switch (sky) {
    case 'meteors':
      return '<g stroke="#fff3cf" stroke-width="1.6" stroke-linecap="round"><path d="M90 40 L150 82"/><path d="M210 24 L286 70"/><path d="M300 90 L340 118"/></g>'
    case 'rings':
      return '<ellipse cx="210" cy="96" rx="34" ry="34" fill="#e2c48d"/><ellipse cx="210" cy="96" rx="74" ry="17" fill="none" stroke="#d9b980" stroke-width="5" transform="rotate(-14 210 96)"/>'
    case 'galaxy':
      return '<g transform="rotate(-28 200 100)" fill="#dfe6ff"><ellipse cx="200" cy="100" rx="96" ry="24" opacity=".16"/><ellipse cx="200" cy="100" rx="56" ry="13" opacity=".3"/><ellipse cx="200" cy="100" rx="16" ry="7" opacity=".9"/></g>'
    case 'moon':
      return '<circle cx="210" cy="98" r="52" fill="#e9e4d6"/><circle cx="236" cy="92" r="50" fill="#2a3242"/>'
    case 'cluster':
      return '<g fill="#cfe8ff"><circle cx="190" cy="84" r="5"/><circle cx="212" cy="70" r="4"/><circle cx="226" cy="92" r="5"/><circle cx="204" cy="104" r="4"/><circle cx="174" cy="100" r="3"/><circle cx="240" cy="112" r="3"/><circle cx="218" cy="122" r="3"/></g>'
    case 'aurora':
      return '<g fill="none" stroke="#7fe0b4" stroke-width="16" opacity=".35"><path d="M30 130 Q120 40 210 110 T390 70"/><path d="M10 160 Q130 80 240 140 T400 110" stroke="#9fd0ff"/></g>'
  }
}

/** A drawing of what can be hired. */
export function instrument(sort: HireItem['sort']): string {
  const shapes = {
    telescope:
      '<g transform="rotate(-32 200 100)"><rect x="96" y="84" width="190" height="34" rx="4" fill="#3b4a72"/><rect x="280" y="78" width="30" height="46" rx="3" fill="#c9a45c"/><rect x="76" y="92" width="22" height="18" fill="#c9a45c"/></g><path d="M200 118 L150 222 M200 118 L250 222 M200 118 L204 226" stroke="#7a5a2c" stroke-width="7" stroke-linecap="round"/>',
    binoculars:
      '<g fill="#3b4a72"><path d="M120 60 h52 l14 120 h-84z"/><path d="M228 60 h52 l18 120 h-84z"/></g><rect x="170" y="92" width="60" height="22" fill="#c9a45c"/><g fill="#12162b"><ellipse cx="144" cy="180" rx="42" ry="13"/><ellipse cx="256" cy="180" rx="42" ry="13"/></g>',
    camera:
      '<rect x="120" y="70" width="160" height="100" rx="10" fill="#3b4a72"/><rect x="170" y="52" width="60" height="24" rx="4" fill="#3b4a72"/><circle cx="200" cy="120" r="36" fill="#12162b"/><circle cx="200" cy="120" r="22" fill="#4a6aa0"/><path d="M200 170 L160 230 M200 170 L240 230" stroke="#7a5a2c" stroke-width="7" stroke-linecap="round"/>',
  }
  return `<svg viewBox="0 0 400 240" preserveAspectRatio="xMidYMid slice" role="img" aria-label="Drawing of the instrument"><rect width="400" height="240" fill="#efe4c6"/>${shapes[sort]}</svg>`
}

/** The moor from above: hills, a stream, the road up. */
export function moorMap(): string {
  return '<svg viewBox="0 0 400 140" preserveAspectRatio="xMidYMid slice"><rect width="400" height="140" fill="#dfe3c4"/><g fill="none" stroke="#a9b07c"><path d="M60 150 Q120 40 210 60 T380 20"/><path d="M90 150 Q140 60 210 76 T400 40"/><path d="M120 150 Q160 80 214 92 T400 62"/></g><path d="M0 40 Q90 70 130 20 T260 0" fill="none" stroke="#7fa3b8" stroke-width="4"/><path d="M0 120 Q110 130 170 96 T206 72" fill="none" stroke="#b5651d" stroke-width="3" stroke-dasharray="8 5"/></svg>'
}
