import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { MailFolder } from './mail.ts'

it('a mail is a file that only its owner reads, and no name in it makes a header', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-mail-test-'))
  try {
    await new MailFolder(folder).send(
      'ann@example.org',
      'You are invited to Café\r\nBcc: all@example.org',
      'Grüße',
    )
    const [name] = readdirSync(folder)
    const file = join(folder, name!)
    const [head = '', body = ''] = readFileSync(file, 'utf8').split('\r\n\r\n')
    expect(head).toContain('To: <ann@example.org>')
    expect(head.split('\r\n').some((line) => line.startsWith('Bcc'))).toBe(false)
    expect(Buffer.from(body, 'base64').toString()).toBe('Grüße')
    expect(statSync(file).mode & 0o077).toBe(0)
  } finally {
    rmSync(folder, { recursive: true })
  }
})
