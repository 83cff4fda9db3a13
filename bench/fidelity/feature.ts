/** One thing that pages do, on a page of its own. */
export interface Feature {
  name: string
  /** inside of the body, or a whole document where it begins with "<!" or "<html" */
  html: string
  style?: string
  /** runs when the page is there */
  script?: string
  /** runs once it has been recorded for a while */
  later?: string
  /** what somebody does then: "click #a", "hover #a", "focus #a", "type #a text", "key Tab", "wheel 300", "drag #a #b" */
  acts?: string[]
  /** of which the picture is compared; the whole window where not said */
  phone?: boolean
}

export const it = (name: string, html: string, more: Omit<Feature, 'name' | 'html'> = {}): Feature => ({
  name,
  html,
  ...more,
})
