import { articleBySlug, ARTICLES } from '../content/articles.ts'
import { QUESTIONS } from '../content/help.ts'
import { HIRE } from '../content/hire.ts'
import type { MembershipSlug } from '../content/memberships.ts'
import { MEMBERSHIPS } from '../content/memberships.ts'
import { NIGHTS } from '../content/nights.ts'
import type { Page } from '../page.ts'
import { escapeHtml, field } from '../page.ts'
import { moorMap, picture } from '../picture.ts'

export function articlesPage(): Page {
  return {
    title: 'Articles',
    body: `<main><h1>Articles</h1><p class="lead">For cloudy evenings.</p><ul class="articles">${ARTICLES.map(
      (article, i) =>
        `<li><div class="article-picture">${picture(article.sky, 60 + i, 24)}</div><div><h2><a href="/articles/${article.slug}">${article.title}</a></h2><p>${article.lead}</p><p class="night-price">${article.minutes} minutes</p></div></li>`,
    ).join('')}</ul></main>`,
  }
}

export function articlePage(slug: string): Page | undefined {
  const article = articleBySlug(slug)
  if (!article) return undefined
  const next = ARTICLES[(ARTICLES.indexOf(article) + 1) % ARTICLES.length]!
  return {
    title: article.title,
    body: `<main class="narrow article"><a class="back-link" href="/articles">All articles</a><h1>${article.title}</h1><p class="lead">${article.lead}</p>
<div class="night-banner">${picture(article.sky, 70 + ARTICLES.indexOf(article), 30)}</div>
${article.body.map((part) => (part.startsWith('# ') ? `<h2>${part.slice(2)}</h2>` : `<p>${part}</p>`)).join('\n')}
<p class="read-on">Read on: <a href="/articles/${next.slug}">${next.title}</a></p><p>Or come and see: <a class="to-nights" href="/nights">observing nights</a></p></main>`,
  }
}

export function membershipPage(slug: string): Page | undefined {
  if (!Object.hasOwn(MEMBERSHIPS, slug)) return undefined
  const membership = MEMBERSHIPS[slug as MembershipSlug]
  const other = MEMBERSHIPS[slug === 'monthly' ? 'yearly' : 'monthly']
  return {
    title: membership.title,
    body: `<main class="narrow"><h1>${membership.title}</h1><p class="lead">${membership.lead}</p>
<p class="price">€ ${membership.price}<span> ${membership.per}</span></p><ul class="plain">${membership.points.map((point) => `<li>${point}</li>`).join('')}</ul><p>${membership.about}</p>
<p class="other"><a href="/membership/${other.slug}">See the ${other.slug} membership</a></p>
<form id="join" method="post" action="/membership/${slug}" novalidate>${field('join-name', 'Name', 'autocomplete="name" required')}${field('join-mail', 'E-mail', 'type="email" autocomplete="email" required', 'Please give an address with an @.')}
<button class="button" type="submit">Join</button></form></main>`,
  }
}

export function joinedPage(): Page {
  return {
    title: 'Welcome',
    body: `<main class="narrow"><h1>Welcome among the friends</h1><p class="lead">Your card is in the post. The next members’ evening is on the first Thursday of the month, clouds or not.</p><p><a class="button quiet" href="/nights">Choose your half-price night</a></p></main>`,
  }
}

interface Found {
  address: string
  title: string
  lead: string
}

/** Everything that has the words in its title or lead. */
export function search(words: string): Found[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  if (!wanted.length) return []
  const all: Found[] = [
    ...NIGHTS.map(({ slug, title, lead }) => ({ address: `/nights/${slug}`, title, lead })),
    ...HIRE.map(({ slug, title, lead }) => ({ address: `/hire/${slug}`, title, lead })),
    ...ARTICLES.map(({ slug, title, lead }) => ({ address: `/articles/${slug}`, title, lead })),
    ...QUESTIONS.map(({ id, question, answer }) => ({
      address: `/help#${id}`,
      title: question,
      lead: answer.slice(0, answer.indexOf('.') + 1),
    })),
  ]
  return all.filter(({ title, lead }) => {
    const text = `${title} ${lead}`.toLowerCase()
    return wanted.every((word) => text.includes(word))
  })
}

/** What visitors look for; the simulated ones look for these, and the pages are measured with them. */
export const QUERIES = {
  found: { book: 'saturn', hire: 'binoculars', read: 'telescope', other: 'dog' },
  nothing: { book: 'gift voucher', hire: 'camera tripod', read: 'astrology', other: 'opening hours' },
} as const

export function searchPage(words: string): Page {
  const found = search(words)
  const shown = escapeHtml(words)
  return {
    title: 'Search',
    report: [{ kind: 'page', results: found.length }],
    body: found.length
      ? `<main class="narrow"><h1>Found for “${shown}”</h1><p class="lead">${found.length} ${found.length === 1 ? 'page' : 'pages'}</p><ul class="found">${found.map(({ address, title, lead }) => `<li><h2><a href="${address}">${title}</a></h2><p>${lead}</p></li>`).join('')}</ul></main>`
      : `<main class="narrow"><h1>Nothing found</h1><p class="lead">No page has “${shown}” in it.</p></main>`,
  }
}

export function helpPage(): Page {
  return {
    title: 'Help',
    body: `<main class="narrow"><h1>Help</h1><p class="lead">What people ask before they come.</p>
${QUESTIONS.map(({ id, question, answer }) => `<details class="question" id="${id}"><summary>${question}</summary><p>${answer}</p></details>`).join('\n')}
<p>Not here? <a class="to-contact" href="/contact">Write to us</a>, or call between two and six.</p></main>`,
  }
}

export function contactPage(): Page {
  return {
    title: 'Write to us',
    body: `<main class="narrow"><h1>Write to us</h1><p class="lead">Somebody reads this every afternoon.</p>
<div class="moor-map" role="img" aria-label="Map of the moor">${moorMap()}<span class="pin">Quillmoor</span></div>
<form id="contact" method="post" action="/contact" novalidate>${field('contact-mail', 'E-mail', 'type="email" autocomplete="email" required', 'Please give an address with an @.')}
<div class="field"><label for="contact-text">Your question</label><textarea id="contact-text" name="contact-text" rows="6" required></textarea><p class="problem" id="contact-text-problem">Please fill this in.</p></div>
<button class="button" type="submit">Send</button></form></main>`,
  }
}

export function sentPage(): Page {
  return {
    title: 'Sent',
    body: `<main class="narrow"><h1>Your question is on its way</h1><p class="lead">You have an answer by tomorrow evening at the latest, unless tonight is very clear.</p><p><a href="/help">Back to help</a></p></main>`,
  }
}

/** Pages that advertisements lead to; the first one's link goes to a page that was renamed. */
export const LANDINGS = {
  winter: {
    title: 'Midwinter under the stars',
    lead: 'Ten per cent off every seat in December with the code WINTER-10.',
    text: 'The longest nights of the year, the brightest constellations, and a stove that has been lit since noon. Come with whoever you would like to whisper with.',
    link: '/nights/midwinter-special',
    call: 'See the midwinter night',
  },
  gift: {
    title: 'Give somebody a night',
    lead: 'A seat under the darkest sky fits into an envelope.',
    text: 'Choose a night, write the name of the person you want to surprise into the notes, and we post a letter with a wax seal. If it is cloudy they come again.',
    link: '/nights',
    call: 'Choose a night to give',
  },
} as const

export function landingPage(slug: string): Page | undefined {
  if (!Object.hasOwn(LANDINGS, slug)) return undefined
  const { title, lead, text, link, call } = LANDINGS[slug as keyof typeof LANDINGS]
  return {
    title,
    body: `<main><section class="hero"><div class="hero-sky" aria-hidden="true">${picture(slug === 'winter' ? 'cluster' : 'rings', 80, 30)}</div>
<div class="hero-text"><h1>${title}</h1><p>${lead}</p><a class="button" href="${link}">${call}</a></div></section><section><p class="lead">${text}</p></section></main>`,
  }
}

export function notFoundPage(): Page {
  return {
    title: 'Not found',
    status: 404,
    body: `<main class="narrow"><h1>Nothing in this part of the sky</h1>
<p>The page you asked for does not exist, or no longer. <a class="to-nights" href="/nights">See the observing nights</a>.</p></main>`,
  }
}
