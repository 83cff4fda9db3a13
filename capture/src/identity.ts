/** A lasting random name; a passing one where the browser keeps nothing. */
export function lastingId(storage: 'localStorage' | 'sessionStorage', key: string): string {
  const fresh = randomId()
  try {
    const stored = window[storage].getItem(key)
    // Whatever else a page or a person has put there is no name of ours.
    if (stored && /^[\w-]{8,64}$/.test(stored)) return stored
    window[storage].setItem(key, fresh)
  } catch {
    // Storage is switched off: each page load is then a visitor of its own.
  }
  return fresh
}

/** `crypto.randomUUID` exists on secure pages only. */
export function randomId(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
}
