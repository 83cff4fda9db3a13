/** What people ask. */
export const QUESTIONS: readonly { id: string; question: string; answer: string }[] = [
  {
    id: 'clouds',
    question: 'What happens if it is cloudy?',
    answer:
      'We decide by four in the afternoon and write to you at once. Your seat then holds for any other night of the same season, or you get the price back. Half an hour of clouds during a night is weather; a whole night of them never costs you anything.',
  },
  {
    id: 'clothes',
    question: 'What should I wear?',
    answer:
      'More than you think. The moor loses heat quickly after dusk, and you will stand still for long stretches. Two pairs of socks, a hat that covers the ears, and gloves in which you can still turn a knob. Blankets and hot drinks are ours to bring.',
  },
  {
    id: 'children',
    question: 'From what age can children come?',
    answer:
      'From eight on every night, from five on the nights for beginners. Children pay half. The youngest are asleep on the library sofa by eleven more often than not, and nobody minds.',
  },
  {
    id: 'reach',
    question: 'How do I get to you without a car?',
    answer:
      'The last bus from Quillmoor Cross arrives at 18:40. On observing nights our own minibus meets it and takes everybody back to the station after the end, whenever that is.',
  },
  {
    id: 'chairs',
    question: 'Is the site accessible?',
    answer:
      'The lawn, the library and the small dome are level. The great refractor is up forty-one steps; a camera at its eyepiece shows the same picture in the library, live. Tell us in the booking what you need.',
  },
  {
    id: 'change',
    question: 'Can I change my booking?',
    answer:
      'Until noon of the day, yes, to any night with a free seat. Call or write; there is no fee. Later than that we have already counted blankets and soup.',
  },
  {
    id: 'dogs',
    question: 'May I bring my dog?',
    answer: 'Calm dogs are welcome in the library. On the lawn they tread on people in the dark.',
  },
  {
    id: 'lamp',
    question: 'May I use my phone as a lamp?',
    answer:
      'Please do not. White light ruins the night vision of everybody around you for half an hour. We hand out red lamps at the gate and there is a locker for bright things.',
  },
]
