/** Things to read, long enough to scroll. Everything here is invented, save the sky. */
export interface Article {
  slug: string
  title: string
  lead: string
  minutes: number
  sky: 'meteors' | 'rings' | 'galaxy' | 'moon' | 'cluster' | 'aurora'
  /** headings and paragraphs; a heading begins with "# " */
  body: readonly string[]
}

export const ARTICLES: readonly Article[] = [
  {
    slug: 'how-dark-is-dark',
    title: 'How dark is dark?',
    lead: 'A moor, a map of lamps, and what thirty years without street lights look like.',
    minutes: 6,
    sky: 'galaxy',
    body: [
      'On the first evening after the last lamp in Quillmoor Cross was shaded, the baker came out of his house at three in the morning and thought that somebody had set the hill alight. What he saw was the Milky Way. He had lived under it for fifty-one years.',
      'Darkness is not a thing one can switch on. It is what is left when everything else has been switched off, and for most of us that has not happened in our lifetime. A town of ten thousand people throws a dome of light that can be seen from sixty kilometres away. Under such a dome some two hundred stars remain. On our lawn, on a clear night in winter, there are more than four thousand.',
      '# Measuring nothing',
      'There are two ways to say how dark a place is. The first is to count. Choose a constellation that everybody knows, compare what you see with a chart, and note the faintest star you can hold without staring. Schoolchildren have done this here every March since 1991, and their notebooks are the longest record of its kind in the county.',
      'The second is to point a small meter at the top of the sky and read off a number. Ours stands on the roof of the library, takes a reading every five minutes and is cleaned of owl droppings once a month. In its best night it showed 21.8, in its worst 16.2. The worst was a wedding.',
      '# What the lamps did',
      'It took nineteen years to change four hundred and twelve lamps. Most of them were not taken away: they were turned down, so that light fell on the ground instead of into the air, and they were given a warmer colour, because blue light scatters furthest. The council saved enough electricity in the first winter to pay for the second.',
      'Not everything was easy. The petrol station wanted to stay visible from the main road and was, until its owner drove up here one August to collect his daughter, lay down on the grass to wait for her, and went home at two. He changed the canopy lights that week.',
      '# Ten minutes and thirty',
      'The dark also has to happen inside the eye. In the first ten minutes the cones give up and everything looks grey. Then, slowly, a pigment builds up in the rods that makes them several thousand times more sensitive than they were in daylight. After thirty minutes you can see your own shadow by starlight alone. One look at a telephone, and you begin again.',
      'That is why we ask you to come at dusk and not later. Nothing happens in the first half hour, and it is the half hour on which all else depends.',
      '# Keeping it',
      'Every year somebody plans a new car park, a new pitch, a new barn with a lamp over the door. Every year somebody from the observatory goes and drinks tea with them. So far that has been enough. The darkness of the moor is not protected by any law; it is protected by four hundred and twelve people who each look after one lamp.',
    ],
  },
  {
    slug: 'first-telescope',
    title: 'Your first telescope, and why it should be binoculars',
    lead: 'What to borrow, what to buy, and what to leave in the shop.',
    minutes: 7,
    sky: 'rings',
    body: [
      'Every January a dozen people drive up to us with a box. In the box is a telescope that somebody gave them for Christmas. It has a tripod that trembles, three eyepieces that promise too much, and instructions in nine languages. They have seen nothing with it. It is not their fault.',
      'A telescope does two things. It gathers light, and it makes small things look larger. Shops advertise the second because the number is bigger. Nearly everything you want to see needs the first.',
      '# The diameter is the whole story',
      'The width of the lens or mirror decides how much light comes in and how fine a detail can be seen. Twice the width gathers four times the light. Magnification, on the other hand, is a matter of the eyepiece, and any telescope can be made to magnify until there is nothing left but a large grey blur. A fair limit is twice the diameter in millimetres, on a good night, which is one night in five.',
      'The other half of the story is what it stands on. A fine lens on a weak tripod shows a star that dances. We would rather look through a modest one that stands still.',
      '# Begin with two eyes',
      'A pair of binoculars costs less than a bad telescope. It shows the picture the right way up, in a field so wide that you find things at once, and with both eyes, which the brain likes much better than one. With eight-times binoculars you can follow the moons of Jupiter from night to night, see the craters along the edge of lunar day, and lose an hour in the star clouds of Sagittarius.',
      'They are also never a waste. When you have bought the big telescope that you surely will, the binoculars hang around your neck and tell you where to point it.',
      '# Then borrow',
      'Nobody knows beforehand what kind of observer they are. Some want one thing, in the middle of the view, for an hour, and to draw it. Some want twenty things before bed. Some turn out to be photographers, which is another illness altogether. Borrow a refractor one weekend and a mirror the next. See which you set up again on the second night, when it is colder and the novelty is gone.',
      'We keep six instruments for that. None of them is precious and all of them work. If you break one, tell us how; it is usually a design fault.',
      '# What to leave in the shop',
      'Leave anything whose box shows a galaxy in colour. Leave anything with a magnification on it. Leave the motor until you know why you want it. And do not buy a telescope for a child who has not yet asked what is up there: take the child out first, and let the question come.',
      'When you do buy, buy used. Telescopes age slowly, and those who give them up have mostly looked after them. There is a board in our library where good ones change hands every spring for half of what they cost. The sky has been there all along; it does not mind waiting for a bargain.',
    ],
  },
  {
    slug: 'meteor-counting',
    title: 'Counting meteors, lying down',
    lead: 'Science for people with a blanket and some patience.',
    minutes: 5,
    sky: 'meteors',
    body: [
      'A meteor is a grain of dust the size of a peppercorn that meets the air at forty kilometres a second. It glows for less time than it takes to say so. To know how many there are, somebody has to lie on the ground and count.',
      'Cameras help, but a human being with a clear view of the whole sky still sees fainter meteors than most of them, and notices things that no one told the software to look for. Observers in thirty countries send their counts to the same place. You can be one of them after a single evening.',
      '# What you need',
      'A reclining chair, or the ground. A sleeping bag, even in August. A red lamp, a pencil on a string, a sheet of paper, and a watch that can be read by feel or that speaks. No telescope: it would show you one part in ten thousand of the sky, and the meteor would be in the rest.',
      '# How it is done',
      'Choose a patch about halfway up, away from the Moon. Note the faintest star you can see in it. Then look, without hunting, and make one mark for each meteor. A stroke means that it came from the shower of the night; a small circle means that it did not. To tell, follow the trail backwards in your mind: the members of a shower all seem to come from one point, as the rails of a straight track do.',
      'After each quarter of an hour note the time. Take breaks and note them too, because an honest count needs to say when nobody was looking. When clouds come, note how much of the sky they cover.',
      '# Why the numbers lie',
      'Newspapers print a figure such as a hundred and twenty an hour. It is what one perfect observer would see under a perfect sky with the point of origin straight overhead. None of the three is ever true. Expect a third of it and be content with more.',
      'Rates also come in clumps. Twelve minutes of nothing, then four in ten seconds: that is not a sign of anything, it is what chance looks like. People expect chance to be evenly spread, and the sky corrects them every December.',
      '# What it is good for',
      'From thousands of such sheets one can see how the stream of dust is built: where it is dense, how it shifts from year to year, which comet left it and when. A gap in your notes at half past two because you fell asleep is a gap in the data. It has happened to all of us, and the form has a box for it.',
    ],
  },
  {
    slug: 'the-1891-lens',
    title: 'The lens that came by sledge',
    lead: 'How a piece of glass from 1891 got up a hill without a road.',
    minutes: 6,
    sky: 'moon',
    body: [
      'The great refractor is older than the road that leads to it. In February of 1891 the moor was frozen hard, and eleven men with four ponies took nine days to pull a lens up from the railway on a sledge built for the purpose. It was packed in a barrel of goose feathers, which the cook kept afterwards.',
      'The glass had been poured in one town, ground in a second and refused by a third, whose council had ordered it and then lost an election. It came here because a widow named Honora Quill had a hill, a legacy, and no patience with committees.',
      '# Ground by hand',
      'A lens of this size is really two, of different glass, a hair apart. Each surface was rubbed against a tool of the opposite shape with finer and finer grit, for the better part of two years, and tested every evening by looking at a gas lamp through a pinhole across the yard. The last of the work is done with the thumb.',
      'If the lens were as wide as the county, the highest bump on it would reach to your ankle. Nobody could measure that at the time. They could only see that a star was a point, and keep rubbing until it was.',
      '# Four generations of hands',
      'The tube weighs as much as a delivery van and moves with one finger, because it is balanced. Its drive is a clock, and its power a weight of ninety kilos that somebody winds up every three hours. We have a motor as well. On public nights we use the weight, because people like the sound.',
      'Two hundred thousand visitors have looked through it. The brass of the eyepiece has been worn smooth at one side, always the same, where a right hand holds on while the left eye closes.',
      '# What it still can do',
      'On paper any large mirror beats it. For fine things at high contrast, a planet or a close pair of stars, a good long refractor under a steady sky remains hard to beat, and steady skies are what the hill has most of. In the winter of 2003 a schoolgirl named Tamsin Orr drew a storm on Saturn at its eyepiece two nights before it was announced.',
      'It has been cleaned eleven times. The twelfth is due, and we are in no hurry. A little dust costs less light than a little zeal.',
    ],
  },
  {
    slug: 'reading-the-weather',
    title: 'Reading the weather over a moor',
    lead: 'Why we say yes at four o’clock, and how often we are wrong.',
    minutes: 5,
    sky: 'aurora',
    body: [
      'At four in the afternoon somebody has to decide. Thirty people want to know whether to get into the car. The forecast says forty per cent, which is no help to anyone.',
      'We have done this for so long that we keep score. Over the past six winters we said yes on three hundred and eleven evenings. On two hundred and seventy-four of them there was at least an hour of clear sky. That leaves thirty-seven on which people drank our soup under a lid of cloud.',
      '# Three kinds of cloud',
      'High cloud comes ahead of a front, thin as breath on a mirror. Stars shine through it with a soft ring around them, the Moon wears a halo, and faint things are gone. It does not get better that night.',
      'Low cloud forms over the wet ground itself when the air cools, and lies in the valley like milk. From above it is the best thing that can happen, since it puts out every lamp beneath it. Our hill is just high enough, most of the time.',
      'The third kind are the separate heaps that an unsettled day leaves behind. They look hopeless at four and are gone by eight, because what feeds them is the Sun. Most of our brave decisions are about these.',
      '# Steady is not the same as clear',
      'There are nights of perfect transparency on which the stars flicker like candles. Warm and cold air mix above us, and every bit of it bends the light. On such nights we show galaxies, which do not mind. On a slightly hazy night under high pressure the air lies still, and Saturn looks like an engraving.',
      'You can judge this without instruments. Look at a bright star near the top of the sky: if it twinkles there, stay with low magnification. If it shines quietly, wake everybody up.',
      '# When we are wrong',
      'You get the evening back, or the money. About one in nine of our yeses ends so. We could be more careful and be wrong less often; but then we would also have said no to that night in February when it cleared at ten for fifty minutes, and nobody who was there wants those fifty minutes back.',
    ],
  },
  {
    slug: 'red-light',
    title: 'In praise of the red lamp',
    lead: 'A short history of not blinding your neighbour.',
    minutes: 4,
    sky: 'cluster',
    body: [
      'The most important instrument in the observatory costs four euros. It is a lamp, it is red, and there are sixty of them in a basket at the gate.',
      'The eye has two kinds of receptors. Those for colour need a lot of light. The others, which need very little, are all but blind to deep red. A dim red lamp therefore lets you read a chart with the one kind without disturbing the other. A white lamp, even for a second, bleaches both.',
      '# Dim, then red',
      'The order matters. A bright red lamp does more harm than a very faint white one. Ours are made so that you can just make out your own handwriting at arm’s length. Visitors complain about this for ten minutes and then stop, as their eyes catch up.',
      'The lamps have a string, because whatever is put down in the dark is lost. They have no switch on the outside, because switches get pressed in pockets.',
      '# Things that glow',
      'Modern life is full of small lights. Watches, car keys, the label of a jacket, the sole of a child’s shoe. The worst is the interior lamp of a car whose door is opened to fetch a hat. We ask you to set it to off when you arrive, and a volunteer with a roll of black tape walks along the row for those who forget.',
      'Telephones have a night mode which makes the screen orange. It is still a lantern. There are lockers at the gate, and people who use them tell us afterwards that this was the best part.',
      '# Manners in the dark',
      'Say who you are when you approach. Walk slowly, feel with your feet, keep to the rope. Do not point at the sky with anything that shines: point with your arm, and describe. It takes longer, and the others learn the constellations.',
      'And if somebody does light up the lawn by mistake, be kind. Everybody has done it once. It takes thirty minutes to forgive, exactly as long as the pigment needs.',
    ],
  },
]

export function articleBySlug(slug: string): Article | undefined {
  return ARTICLES.find((article) => article.slug === slug)
}
