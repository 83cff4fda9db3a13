/**
 * The page an address names: its path, without origin, query, fragment or closing slash.
 *
 * @param url  absolute URL or path
 * @returns a path that begins with "/"
 */
export function pagePath(url: string): string {
  const path = url.replace(/^[a-z][a-z0-9+.-]*:\/\/[^/?#]*/i, '').split(/[?#]/, 1)[0]!
  const trimmed = path.replace(/\/+$/, '')
  return trimmed.startsWith('/') ? trimmed : `/${trimmed}`
}
