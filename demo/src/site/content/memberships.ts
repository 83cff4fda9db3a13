/** The two ways of being a friend of the observatory. */
export const MEMBERSHIPS = {
  monthly: {
    slug: 'monthly',
    title: 'Monthly membership',
    price: 6,
    per: 'a month',
    /** what a member of this kind brings in a first year, in euros */
    worth: 72,
    lead: 'Month by month. Stop whenever you like.',
    points: [
      'One seat a season at half price',
      'The members’ letter before each new moon',
      'Your name on a lamp',
    ],
    about:
      'For those who want to try it. The fee is taken on the first of each month; a note to the office ends it. You can come to the members’ evenings from your first day on, and the library lends you a chart and a red lamp.',
  },
  yearly: {
    slug: 'yearly',
    title: 'Yearly membership',
    price: 60,
    per: 'a year',
    worth: 60,
    lead: 'Once a year, and you never think about it again.',
    points: [
      'Two seats a season at half price',
      'The members’ letter before each new moon',
      'One night’s hire of any instrument',
      'Your name on a lamp',
    ],
    about:
      'For those who know they will stay. One payment in the year, at whatever time you join. Besides the members’ evenings there is the long weekend in September, when the observatory belongs to its friends alone and the kitchen stays open until dawn.',
  },
} as const
export type MembershipSlug = keyof typeof MEMBERSHIPS
