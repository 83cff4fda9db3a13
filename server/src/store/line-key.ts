import { hash } from 'node:crypto'

/** 16 bytes that stand for a line's id within its site. */
export function lineKey(siteId: number, id: string): Buffer {
  return hash('md5', `${siteId}/${id}`, 'buffer')
}
