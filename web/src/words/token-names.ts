import type { Token } from '@dust-trail/core'
import { questions, tokenWords } from '@dust-trail/core'
import { useCallback, useMemo } from 'react'
import { useQuestion } from '../api/use-question.ts'
import { useLens } from '../app/lens.ts'
import { elementName } from './selections.ts'

/** Names what happens by the text that people read on the element, where it is known; else by the end of its selector. */
export function useTokenNames(): (token: Token) => string {
  const { lens } = useLens()
  const catalogue = useQuestion(questions.catalogue, lens, {})
  const texts = useMemo(
    () => new Map(catalogue.data?.elements.map(({ selector, page, text }) => [`${page}\n${selector}`, text])),
    [catalogue.data],
  )
  return useCallback((token) => tokenName(token, texts.get(`${token.page}\n${token.what}`)), [texts])
}

/** "click “Book this night” on A night": see useTokenNames. */
export function tokenName(token: Token, text: string | undefined): string {
  const onElement = ['click', 'input', 'submit', 'seen'].includes(token.kind)
  return tokenWords(onElement && token.what ? { ...token, what: elementName(text, token.what) } : token)
}
