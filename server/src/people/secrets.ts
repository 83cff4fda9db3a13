import { createHash, randomBytes } from 'node:crypto'
import { argon2id, argon2Verify } from 'hash-wasm'
import { Secret, TOTP } from 'otpauth'

/** What cannot be guessed: 256 bits, as text for addresses and headers. */
export function newSecret(): string {
  return randomBytes(32).toString('base64url')
}

/** By what a secret is found again: whoever reads the table cannot use it. Secrets are random, so that plain SHA-256 is enough. */
export function hashOf(secret: string): string {
  return createHash('sha256').update(secret).digest('hex')
}

/**
 * A password as it is kept: argon2id with the least of what is advised.
 *
 * @see OWASP Password Storage Cheat Sheet: 19 MiB, 2 rounds, 1 lane (from memory)
 */
export function passwordHash(password: string): Promise<string> {
  return argon2id({
    ...{ password: password.normalize('NFKC'), salt: randomBytes(16), hashLength: 32, outputType: 'encoded' },
    ...{ memorySize: 19_456, iterations: 2, parallelism: 1 },
  })
}

export function isPassword(password: string, hash: string): Promise<boolean> {
  return argon2Verify({ password: password.normalize('NFKC'), hash })
}

/** Codes of a second factor (RFC 6238): six digits, half a minute each. */
function totpOf(secret: string, email: string): TOTP {
  return new TOTP({ issuer: 'Dust Trail', label: email, secret: Secret.fromBase32(secret) })
}

export function newTotpSecret(email: string): { secret: string; uri: string } {
  const secret = new Secret({ size: 20 }).base32
  return { secret, uri: totpOf(secret, email).toString() }
}

/**
 * The step of time that a code is of, so that it is taken once; null where it is none. One step before and after is taken, for
 * clocks that differ.
 */
export function totpStep(secret: string, code: string, nowMs: number): number | null {
  const delta = totpOf(secret, '').validate({ token: code, timestamp: nowMs, window: 1 })
  return delta === null ? null : Math.floor(nowMs / 30_000) + delta
}
