/* What core uses of the platform besides the language: it is the same in browsers, workers and Node.js. */

declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>
}
declare class TextDecoder {
  decode(bytes: Uint8Array): string
}
declare class URLSearchParams {
  constructor(query: string)
  get(name: string): string | null
}
declare class URL {
  constructor(address: string)
  readonly host: string
}
