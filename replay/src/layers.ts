/** Says of an element how it lies above the page: see capture/src/more/recording/serialise.ts. */
export const LAYER = 'data-trail-layer'

/**
 * Puts an element above the page as it was on the visitor's, or takes it down.
 *
 * @param layer  "modal" for a dialog that lets nothing else be used, "popover-open" for what popped up; null: none
 */
export function setLayer(element: Element, layer: string | null): void {
  if (layer === 'modal' && element.localName === 'dialog') {
    const dialog = element as HTMLDialogElement
    if (dialog.matches(':modal')) return
    // What is open is not opened once more.
    dialog.removeAttribute('open')
    const held = document.activeElement as HTMLElement | null
    dialog.showModal()
    // It takes the focus: that belongs to whoever watches.
    ;(dialog.ownerDocument.activeElement as HTMLElement | null)?.blur()
    if (document.activeElement !== held) held?.focus({ preventScroll: true })
  } else if (layer === 'popover-open') {
    if (!element.matches(':popover-open')) (element as HTMLElement).showPopover()
  } else if (layer === 'fullscreen') element.setAttribute(LAYER, layer)
  else if (element.localName === 'dialog') {
    if (element.matches(':modal')) (element as HTMLDialogElement).close()
  } else if (element.hasAttribute('popover') && element.matches(':popover-open'))
    (element as HTMLElement).hidePopover()
  if (layer === null) element.removeAttribute(LAYER)
}
