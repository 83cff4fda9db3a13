import { Effects } from './effects/effects.ts'
import { watchForms } from './forms.ts'
import { watchFreezes } from './freezes.ts'
import { watchGestures } from './gestures.ts'
import type { MorePage } from './more-page.ts'
import { watchConsole } from './recording/console.ts'
import { Keeper } from './recording/keeper.ts'
import { network } from './recording/network.ts'
import { privacy } from './recording/privacy.ts'
import type { Watcher } from './recording/recorder.ts'
import { Recorder } from './recording/recorder.ts'
import { fields } from './recording/state.ts'
import { Styles } from './recording/styles.ts'
import { Surroundings } from './recording/surroundings.ts'
import { askForSheets } from './recording/written-sheets.ts'
import { Rests } from './rests.ts'
import { Seen } from './seen.ts'

/** What is loaded once the page stands: too large for the first script, and needed by nobody before. */
export function watchMore(page: MorePage): {
  effects: Effects
  seen: Seen
  rests: Rests
  recorder: Recorder
  /** what the recording begins with is there */
  ready: Promise<void>
} {
  Object.assign(privacy, page.privacy)
  fields.lengthOf = page.lengthOf
  network.ask = page.ask
  watchGestures(page)
  watchFreezes(page)
  const effects = new Effects()
  watchForms(page, effects)
  const watcher: Watcher = {
    met: (root) => {
      styles.met(root)
      surroundings.met(root)
    },
    begun: () => {
      said.again()
      styles.begun()
      surroundings.begun()
      keeper?.begun()
    },
    changed: () => {
      surroundings.changed()
      keeper?.changed()
    },
  }
  const recorder = new Recorder(page.sink, page.changed, page.replaced, watcher)
  const said = watchConsole((level, text) => recorder.said(level, text))
  const styles = new Styles(recorder, page.made)
  const surroundings = new Surroundings(recorder, page, styles)
  const keeper =
    page.files === undefined
      ? undefined
      : new Keeper(
          page.files,
          () => recorder.roots(),
          (url, hash) => recorder.file(url, hash),
        )
  const ready = askForSheets(document).catch(() => undefined)
  return { effects, seen: new Seen(page), rests: new Rests(page), recorder, ready }
}
