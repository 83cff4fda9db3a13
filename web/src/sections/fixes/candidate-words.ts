import type { Candidate } from '@dust-trail/core'
import { elementName } from '../../words/selections.ts'

const KIND_WORDS: Record<Candidate['kind'], string> = {
  ...{ 'script error': 'A script fails', 'failed request': 'A request fails', freeze: 'The page freezes' },
  ...{ 'refused form': 'The form is refused', 'dead click': 'Nothing happens' },
  'rage click': 'Clicked again and again',
  ...{ 'site signal': 'The site reports', 'not found': 'Leads to a page that is not there or fails' },
  ...{ 'no results': 'A search without results', 'slow page': 'Slow', 'became slow': 'Became slow' },
  ...{ 'corrected field': 'Corrected again and again', shuttle: 'To and fro between pages' },
  ...{ 'out of sight': 'Not in view', 'given up at field': 'Given up at this field' },
  ...{
    'slow answer': 'Answers late',
    combing: 'Scrolled up and down in search',
    zoom: 'Enlarged to be read',
  },
}

/** What a candidate is, in a phrase. */
export function candidateWords(
  one: Pick<Candidate, 'kind' | 'text' | 'selector' | 'name'> & { near?: boolean },
): string {
  const { kind, text, selector, name, near } = one
  const what = near && kind === 'dead click' ? 'Hit just beside it' : KIND_WORDS[kind]
  if (selector) return `${what}: ${elementName(text, selector)}`
  return name ? `${what}: ${name}` : what
}
