const VISITOR = 'dust-trail-visitor'
const TAB = 'dust-trail-tab'
/** Whatever else a page or a person has put there is no name of ours. */
const NAME = /^[\w-]{8,64}$/

function read(storage: 'localStorage' | 'sessionStorage', key: string): string | undefined {
  try {
    const stored = window[storage].getItem(key)
    if (stored && NAME.test(stored)) return stored
  } catch {
    // Storage is switched off.
  }
  return undefined
}

/** A random name kept in the browser; a passing one where it keeps nothing: each page load is then a visitor of its own. */
function kept(storage: 'localStorage' | 'sessionStorage', key: string, fresh = randomId()): string {
  const stored = read(storage, key)
  if (stored) return stored
  try {
    window[storage].setItem(key, fresh)
  } catch {
    // Said above.
  }
  return fresh
}

/**
 * The name under which a visitor is known.
 *
 * @param lasting  also on later visits; otherwise as long as the tab is open
 */
export function visitorId(lasting: boolean): string {
  // Who is known from this visit alone keeps the name when they allow to be known again.
  return lasting
    ? kept('localStorage', VISITOR, read('sessionStorage', VISITOR))
    : kept('sessionStorage', VISITOR)
}

export const tabId = () => kept('sessionStorage', TAB)

/** Forgets who the visitor is. */
export function forgetIds(): void {
  for (const storage of ['localStorage', 'sessionStorage'] as const)
    for (const key of [VISITOR, TAB])
      try {
        window[storage].removeItem(key)
      } catch {
        // Nothing is kept then.
      }
}

/** Whether a visitor is one of the share who are watched: the same each time. */
export function isInShare(visitor: string, share: number): boolean {
  return share >= 1 || parseInt(visitor.slice(0, 8), 16) / 2 ** 32 < share
}

/** `crypto.randomUUID` exists on secure pages only. */
export function randomId(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
}
