// @vitest-environment happy-dom
import { registry } from '@dust-trail/core'
import { screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { longSessions } from '../../../core/src/testing/toy-question.ts'
import { useLens } from '../app/lens.ts'
import { clearAfterEach, show, visit } from '../test-screen.tsx'
import { useQuestion } from './use-question.ts'

clearAfterEach()

function LongSessions() {
  const { lens } = useLens()
  const { data } = useQuestion(longSessions, lens, { least: 2 })
  return <p>{data ? `${data.sessions} of ${data.of}` : 'not yet'}</p>
}

describe('useQuestion', () => {
  it('asks a question that is only declared', async () => {
    const sessions = [visit(1, ['/a', '/b']), visit(2, ['/a'])]
    show(<LongSessions />, { sessions }, { questions: [...registry.questions, longSessions] })
    expect(await screen.findByText('1 of 2')).toBeDefined()
  })
})
