import { ViewLinks } from '../../app/view-links.tsx'

const VIEWS = [
  ['/pages', 'Pages'],
  ['/pages/landings', 'Landing pages'],
] as const

/** The ways to look at pages. */
export const PageViews = () => <ViewLinks label="Views of pages" views={VIEWS} />
