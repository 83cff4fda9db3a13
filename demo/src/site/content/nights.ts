/** The nights that the observatory sells. Everything here is invented. */
export interface Night {
  slug: string
  title: string
  month: string
  day: string
  lead: string
  about: string
  price: number
  seats: number
  sky: 'meteors' | 'rings' | 'galaxy' | 'moon' | 'cluster' | 'aurora'
}

export const MONTHS = ['December', 'January', 'February'] as const

export const NIGHTS: readonly Night[] = [
  {
    slug: 'geminid-meteors',
    title: 'Geminid meteors from the heather',
    month: 'December',
    day: 'Mon 14',
    lead: 'Up to a hundred meteors an hour, seen lying down.',
    about:
      'The Geminids are the most generous shower of the year, and December is when the moor is at its darkest. We lay out reclining chairs and wool blankets on the south lawn, hand round hot blackcurrant, and leave you to count. Two guides walk between the chairs and answer whatever you ask. Bring more socks than you think you need.',
    price: 34,
    seats: 22,
    sky: 'meteors',
  },
  {
    slug: 'rings-of-saturn',
    title: 'The rings of Saturn through the great refractor',
    month: 'December',
    day: 'Fri 18',
    lead: 'The 1891 lens, a steady sky, and a planet that looks unreal.',
    about:
      'Our great refractor was built in 1891 and has shown Saturn to four generations. Groups of six climb to the dome in turn, twenty minutes each, while the others look through smaller telescopes on the terrace or warm up by the stove in the library. On a steady night the dark gap in the rings is plain to see.',
    price: 48,
    seats: 9,
    sky: 'rings',
  },
  {
    slug: 'winter-hexagon',
    title: 'Learn the winter hexagon by heart',
    month: 'December',
    day: 'Sat 19',
    lead: 'Six bright stars, one evening, and you will never be lost again.',
    about:
      'A night for beginners. Without any telescope at all we walk from star to star around the great winter hexagon, tell the stories that go with them, and draw our own maps by red torchlight. At the end everybody finds the way round alone. Children from eight years are welcome.',
    price: 22,
    seats: 31,
    sky: 'cluster',
  },
  {
    slug: 'andromeda-by-eye',
    title: 'Andromeda with the naked eye',
    month: 'January',
    day: 'Sat 9',
    lead: 'The farthest thing you can see without a lens.',
    about:
      'Two and a half million years old and still visible without help: the light of the Andromeda galaxy. First we find it by eye, then with binoculars, then through the half-metre reflector, and last as a long exposure that grows on the screen while we watch.',
    price: 29,
    seats: 17,
    sky: 'galaxy',
  },
  {
    slug: 'moon-mountains',
    title: 'Mountains on the Moon',
    month: 'January',
    day: 'Fri 15',
    lead: 'Long shadows along the terminator, drawn by you.',
    about:
      'At half moon the shadows of lunar mountains are at their longest. We measure the height of one of them together, with a ruler and some patience, and get it right to within a few hundred metres. Paper, pencils and mulled apple juice are provided.',
    price: 26,
    seats: 24,
    sky: 'moon',
  },
  {
    slug: 'orion-nursery',
    title: 'The nursery in Orion',
    month: 'January',
    day: 'Sat 16',
    lead: 'New stars, in a cloud you can see from the garden.',
    about:
      'Below the belt of Orion hangs a cloud in which stars are being born. Through the reflector four of them stand in a tight square and light the whole cloud up. We look long and slowly: the eye needs ten minutes before the wings of the cloud come out.',
    price: 32,
    seats: 12,
    sky: 'galaxy',
  },
  {
    slug: 'pleiades-supper',
    title: 'Supper under the Pleiades',
    month: 'February',
    day: 'Sat 6',
    lead: 'Three courses, seven sisters, no lights.',
    about:
      'A long table in the walled garden, lanterns out, the Pleiades overhead. The kitchen serves three courses that can be eaten in the dark, and between them a guide opens the roof of the small dome for those who want a closer look.',
    price: 64,
    seats: 6,
    sky: 'cluster',
  },
  {
    slug: 'northern-glow',
    title: 'Waiting for the northern glow',
    month: 'February',
    day: 'Fri 12',
    lead: 'No promise, a good chance, and soup at midnight.',
    about:
      'Some years the northern lights reach as far south as the moor. We watch the magnetometer in the library and run outside when it moves. If nothing comes there is a film of other nights, soup at midnight, and half of the price back.',
    price: 38,
    seats: 19,
    sky: 'aurora',
  },
]

export function nightBySlug(slug: string): Night | undefined {
  return NIGHTS.find((night) => night.slug === slug)
}
