import { quiet } from './dom.ts'

const MOST = 200
/** Of larger fonts in bytes nothing is kept: they would take room on the page, and no file would be shared by several recordings. */
const LARGEST_FONT = 150_000

/**
 * What scripts have made for styles and the browser does not tell of afterwards: fonts, with what they were made of, and
 * properties by name.
 */
export const made = {
  fonts: new Map<FontFace, string | BufferSource>(),
  properties: new Map<string, PropertyDefinition>(),
}

/** Watches for them from the very start: pages make them early. */
export function watchMade(): void {
  const keepFont = quiet((font: FontFace, source: string | BufferSource) => {
    const isSmall = typeof source === 'string' || source.byteLength <= LARGEST_FONT
    if (isSmall && made.fonts.size < MOST) made.fonts.set(font, source)
  })
  const keepProperty = quiet((property: PropertyDefinition) => {
    made.properties.set(property.name, property)
  })
  if (window.FontFace)
    window.FontFace = new Proxy(window.FontFace, {
      construct(target, given: ConstructorParameters<typeof FontFace>, newTarget: new () => unknown) {
        const font: FontFace = Reflect.construct(target, given, newTarget)
        keepFont(font, given[1])
        return font
      },
    })
  const register = CSS?.registerProperty?.bind(CSS)
  if (register)
    CSS.registerProperty = (property) => {
      register(property)
      keepProperty(property)
    }
}
