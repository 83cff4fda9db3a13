import type { CaptureSettings, TextLevel } from '@dust-trail/core/recording'
import { send } from './dom.ts'

/** Where the server does not say: as little as possible. */
const STRICT: CaptureSettings = {
  text: 'hidden',
  consent: 'asked',
  share: 1,
  drawings: false,
  pictures: 'none',
}
const LEVEL = /^(hidden|patterns|chosen)$/

/**
 * What the site's owner lets leave its pages. A page can say more strictly or less so itself: `data-text` and
 * `data-drawings` at the script, since who writes the page could send what they like anyhow.
 */
export async function settingsOf(script: HTMLScriptElement, collect: URL): Promise<CaptureSettings> {
  const address = new URL(collect)
  address.pathname += '/settings'
  let settings = { ...STRICT }
  try {
    const answer = await send(address.href, { credentials: 'omit' })
    // A server that has none to give asks for nothing, and gets as little text as can be.
    if (answer.ok)
      settings = {
        ...STRICT,
        consent: 'free',
        ...((await answer.json().catch(() => null)) as Partial<CaptureSettings>),
      }
  } catch {
    // It cannot be asked, or has said nothing that can be read.
  }
  const { text = '', drawings } = script.dataset
  if (drawings !== undefined) settings.drawings = drawings === 'yes'
  return LEVEL.test(text) ? { ...settings, text: text as TextLevel } : settings
}
