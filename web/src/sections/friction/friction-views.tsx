import { ViewLinks } from '../../app/view-links.tsx'

const VIEWS = [
  ['/friction', 'Hot spots'],
  ['/friction/errors', 'Errors'],
  ['/friction/forms', 'Forms'],
  ['/friction/strain', 'Strain'],
] as const

/** The ways to look at what went wrong. */
export const FrictionViews = () => <ViewLinks label="Views of friction" views={VIEWS} />
