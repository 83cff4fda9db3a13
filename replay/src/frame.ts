/**
 * The frame in which recorded pages are rebuilt. It may run no script (sandbox without allow-scripts, and a policy of
 * its own), open nothing, send nothing, and load pictures and fonts only from the site that was recorded.
 */
export interface FrameOptions {
  /** origins of the recorded site */
  pictureOrigins: readonly string[]
  /** origin of the application itself, which must never be asked for anything */
  ownOrigin: string
  title: string
}

/** Adds the frame to a container. Resolves when its empty document stands. */
export function createFrame(container: HTMLElement, options: FrameOptions): Promise<HTMLIFrameElement> {
  const frame = container.ownerDocument.createElement('iframe')
  // Same origin, so that the page can be built node by node from outside; without scripts nothing can use it inside.
  frame.setAttribute('sandbox', 'allow-same-origin')
  frame.setAttribute('referrerpolicy', 'no-referrer')
  frame.setAttribute('scrolling', 'no')
  frame.setAttribute('tabindex', '-1')
  frame.title = options.title
  return new Promise((resolve) => {
    const stands = () => {
      const page = frame.contentDocument!
      // Written rather than given as srcdoc: such a document can never be one without a document type.
      page.open()
      page.write(
        `<!doctype html><html><head><meta http-equiv="Content-Security-Policy" content="${policy(options)}"></head><body></body></html>`,
      )
      page.close()
      resolve(frame)
    }
    frame.addEventListener('load', stands, { once: true })
    container.append(frame)
  })
}

export function policy({ pictureOrigins, ownOrigin }: FrameOptions): string {
  const origins = pictureOrigins.filter(
    (origin) => /^https?:\/\/[\w.[\]:-]+$/.test(origin) && origin !== ownOrigin,
  )
  const sources = ['data:', ...origins].join(' ')
  return `default-src 'none'; style-src 'unsafe-inline'; img-src ${sources}; font-src ${sources}; form-action 'none'; base-uri 'none'`
}
