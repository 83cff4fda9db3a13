import { randomUUID } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'

/** Sends mail. */
export interface Mail {
  send(to: string, subject: string, text: string): Promise<void>
}

/** Stands in for a mail server: each mail is a file in a folder, in the form in which mail is sent (RFC 5322). */
export class MailFolder implements Mail {
  constructor(private readonly folder: string) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
  }

  async send(to: string, subject: string, text: string): Promise<void> {
    const head = [
      `Date: ${new Date().toUTCString()}`,
      'From: Dust Trail <dust-trail@localhost>',
      `To: <${to}>`,
      `Subject: ${encodedWord(subject)}`,
      `Message-ID: <${randomUUID()}@localhost>`,
      'MIME-Version: 1.0',
      'Content-Type: text/plain; charset=utf-8',
      'Content-Transfer-Encoding: base64',
    ]
    const body = (
      Buffer.from(text)
        .toString('base64')
        .match(/.{1,76}/g) ?? []
    ).join('\r\n')
    await writeFile(
      join(this.folder, `${Date.now()}-${randomUUID()}.eml`),
      `${head.join('\r\n')}\r\n\r\n${body}\r\n`,
      {
        mode: 0o600,
      },
    )
  }
}

/** A header that may hold any text, and no second header (RFC 2047). */
function encodedWord(text: string): string {
  return /^[\x20-\x7e]*$/.test(text) ? text : `=?utf-8?B?${Buffer.from(text).toString('base64')}?=`
}
