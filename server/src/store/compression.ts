import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { deflate, inflate, inflateSync } from 'node:zlib'

/** Level 1: higher ones save a tenth of the bytes and take three times as long. */
const EFFORT = { level: 1 }

const deflated = promisify(deflate) as (data: Uint8Array | string, options: object) => Promise<Buffer>

export const decompress = promisify(inflate) as (data: Uint8Array) => Promise<Buffer>

/** What is stored is not what was written; the message says why. */
export class DamagedError extends Error {}

/** Bytes compressed, with the checksum that they are checked by. */
export async function compress(data: Uint8Array | string): Promise<{ body: Buffer; checksum: string }> {
  const body = await deflated(data, EFFORT)
  return { body, checksum: sha256(body) }
}

/** The bytes that were compressed. @throws DamagedError */
export function decompressChecked(body: Uint8Array, checksum: string): Promise<Uint8Array> {
  return asDamaged(() => {
    check(body, checksum)
    return decompress(body)
  })
}

/** The same in a thread that may wait for it. @throws DamagedError */
export function readChecked(body: Uint8Array, checksum: string): Uint8Array {
  check(body, checksum)
  return inflateSync(body)
}

/** Makes something of what is stored; whatever goes wrong means that it is damaged. @throws DamagedError where it could not be made */
export async function asDamaged<T>(make: () => T | Promise<T>): Promise<T> {
  try {
    return await make()
  } catch (error) {
    throw error instanceof DamagedError
      ? error
      : new DamagedError(error instanceof Error ? error.message : String(error))
  }
}

function check(body: Uint8Array, checksum: string): void {
  if (sha256(body) !== checksum) throw new DamagedError('its checksum is wrong')
}

export function sha256(data: Uint8Array | string): string {
  return createHash('sha256').update(data).digest('hex')
}
