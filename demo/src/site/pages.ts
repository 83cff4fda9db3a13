import { ARTICLES } from './content/articles.ts'
import { HIRE } from './content/hire.ts'
import { NIGHTS } from './content/nights.ts'
import type { Page, PageRequest } from './page.ts'
import { bookedPage, bookingPage } from './sections/booking.ts'
import { hiredPage, hireItemPage, hirePage } from './sections/hire.ts'
import { homePage, nightPage, nightsPage } from './sections/nights.ts'
import {
  articlePage,
  articlesPage,
  contactPage,
  helpPage,
  joinedPage,
  landingPage,
  LANDINGS,
  membershipPage,
  notFoundPage,
  QUERIES,
  searchPage,
  sentPage,
} from './sections/reading.ts'

const SINGLE: Record<string, () => Page> = {
  '/': homePage,
  '/nights': nightsPage,
  '/booked': bookedPage,
  '/hire': hirePage,
  '/hire/reserved': hiredPage,
  '/articles': articlesPage,
  '/membership/welcome': joinedPage,
  '/help': helpPage,
  '/contact': contactPage,
  '/contact/sent': sentPage,
}

/** A page of the stand-in site; the one that says so where there is none. */
export function pageFor({ path, query, party }: PageRequest): Page {
  const single = Object.hasOwn(SINGLE, path) ? SINGLE[path] : undefined
  if (single) return single()
  if (path === '/search') return searchPage((query.get('q') ?? '').slice(0, 80))
  const [, section = '', name = '', step = '', ...rest] = path.split('/')
  if (rest.length) return notFoundPage()
  const found =
    section === 'book'
      ? bookingPage(name, step, party)
      : step
        ? undefined
        : section === 'nights'
          ? nightPage(name)
          : section === 'hire'
            ? hireItemPage(name)
            : section === 'membership'
              ? membershipPage(name)
              : section === 'articles'
                ? articlePage(name)
                : name === ''
                  ? landingPage(section)
                  : undefined
  return found ?? notFoundPage()
}

/** Every page there is, for measuring and for checks; a query tells apart what one address shows. */
export const ALL_PAGES: readonly string[] = [
  ...Object.keys(SINGLE),
  ...NIGHTS.map(({ slug }) => `/nights/${slug}`),
  ...NIGHTS.flatMap(({ slug }) => [
    `/book/${slug}/party?party=steps`,
    `/book/${slug}/party?party=map`,
    `/book/${slug}/details`,
    `/book/${slug}/payment`,
  ]),
  ...HIRE.map(({ slug }) => `/hire/${slug}`),
  '/membership/monthly',
  '/membership/yearly',
  ...ARTICLES.map(({ slug }) => `/articles/${slug}`),
  ...Object.values(QUERIES).flatMap((words) =>
    Object.values(words).map((q) => `/search?${new URLSearchParams({ q }).toString()}`),
  ),
  ...Object.keys(LANDINGS).map((slug) => `/${slug}`),
  LANDINGS.winter.link,
]
