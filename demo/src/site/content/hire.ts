/** What can be hired by the night. Everything here is invented. */
export interface HireItem {
  slug: string
  title: string
  lead: string
  about: string
  /** in euros, a night */
  price: number
  /** what the list can be narrowed down by */
  sort: 'telescope' | 'binoculars' | 'camera'
  weight: string
  sees: string
}

export const HIRE: readonly HireItem[] = [
  {
    slug: 'heather-80',
    title: 'Heather 80, a small refractor',
    lead: 'Fits on a back seat and is ready in four minutes.',
    about:
      'Our most borrowed telescope, and the one we learned on ourselves. Eighty millimetres of lens show the rings of Saturn, the four large moons of Jupiter and more craters than you can count. It stands on a wooden tripod that forgives soft ground, and it has two knobs only: one goes round, one goes up.',
    price: 24,
    sort: 'telescope',
    weight: '5.2 kg with tripod',
    sees: 'Moon, planets, double stars',
  },
  {
    slug: 'tarn-200',
    title: 'Tarn 200, a mirror on a rocking box',
    lead: 'A bucket for starlight that anybody can push by hand.',
    about:
      'Two hundred millimetres of mirror in a plain tube, on a box of birch plywood that turns on felt. No motor, no cable, no menu: you push it where you want to look. From a dark field it shows spiral arms in the brighter galaxies and breaks globular clusters into grains.',
    price: 39,
    sort: 'telescope',
    weight: '19 kg in two parts',
    sees: 'Galaxies, clusters, nebulae',
  },
  {
    slug: 'wayfinder-130',
    title: 'Wayfinder 130, finds things by itself',
    lead: 'Tell it where you stand, and it turns to what you name.',
    about:
      'For those who would rather look than search. Level the tripod, let the little camera see two bright stars, and the Wayfinder knows the rest of the sky. It keeps what it has found in the middle of the view for as long as you like, which makes it the favourite of families with impatient astronomers.',
    price: 52,
    sort: 'telescope',
    weight: '9.8 kg with battery',
    sees: 'Everything above 9th magnitude',
  },
  {
    slug: 'curlew-8x42',
    title: 'Curlew 8 × 42, binoculars for two hands',
    lead: 'The best first instrument there is.',
    about:
      'Wide, bright and light enough to hold for a whole evening. With these you sweep along the Milky Way, find the smudge of Andromeda without a map, and watch the shadow line crawl over the Moon. By day they show you curlews.',
    price: 9,
    sort: 'binoculars',
    weight: '0.7 kg',
    sees: 'Milky Way, comets, large clusters',
  },
  {
    slug: 'lantern-15x70',
    title: 'Lantern 15 × 70 on a parallelogram arm',
    lead: 'Two big eyes that float at any height.',
    about:
      'Large binoculars are too heavy to hold and too good to leave at home. Ours hang on a balanced arm: the tallest of the family looks first, lowers them to the smallest, and the comet is still in the middle. Comes with a folding chair that leans back.',
    price: 19,
    sort: 'binoculars',
    weight: '11 kg with arm and chair',
    sees: 'Comets, nebulae, star clouds',
  },
  {
    slug: 'slowhand-tracker',
    title: 'Slowhand, a tracker for your camera',
    lead: 'Turns as fast as the sky and lets the shutter stay open.',
    about:
      'A clockwork platform the size of a tin of shortbread. Put it on your own tripod, point its axis at the pole star, and your camera follows the sky for an hour on one winding. Four minutes of exposure are enough for colours that no eye has ever seen directly.',
    price: 17,
    sort: 'camera',
    weight: '1.9 kg',
    sees: 'Whatever your lens sees',
  },
]

export const HIRE_SORTS = ['telescope', 'binoculars', 'camera'] as const

export function itemBySlug(slug: string): HireItem | undefined {
  return HIRE.find((item) => item.slug === slug)
}
