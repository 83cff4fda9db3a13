import type { SessionMoment } from '@dust-trail/api'
import type { SignalKind } from '@dust-trail/core'
import { signalTraits } from '@dust-trail/core'

/** One line of what happened: a thing done, how often in a row, and the signals that came of it. */
export interface MomentLine {
  moment: SessionMoment
  times: number
  lastMs: number
  /** kinds of the signals that lie within it */
  signals: SessionMoment[]
}

/** So many lines back the thing done may lie of which a signal is: an error or a request comes between. */
const NEAR = 8

/** Whether a signal is of what a line says. */
function lies(signal: SessionMoment, { moment, lastMs }: MomentLine): boolean {
  return (
    !moment.signal &&
    moment.kind === signalTraits(signal.kind as SignalKind).begins &&
    isAtSame(signal, moment) &&
    signal.atMs >= moment.atMs &&
    signal.atMs <= lastMs
  )
}

/** Whether something is done once more in a row. */
function goesOn(next: SessionMoment, { moment }: MomentLine): boolean {
  return !moment.signal && next.kind === moment.kind && next.label === moment.label && isAtSame(next, moment)
}

const isAtSame = (a: SessionMoment, b: SessionMoment) => a.selector === b.selector && a.page === b.page

/**
 * Moments in order as lines: runs of clicks on the same thing are one, and signals stand with what they are of; where that is not there they
 * have a line of their own.
 */
export function momentLines(moments: readonly SessionMoment[]): MomentLine[] {
  const lines: MomentLine[] = []
  for (const moment of moments) {
    const own = moment.signal
      ? lines.slice(-NEAR).findLast((line) => lies(moment, line))
      : lines.slice(-1).find((line) => goesOn(moment, line))
    if (!own) lines.push({ moment, times: 1, lastMs: moment.atMs, signals: moment.signal ? [moment] : [] })
    else if (moment.signal) own.signals.push(moment)
    else {
      own.times++
      own.lastMs = moment.atMs
    }
  }
  return lines
}

/** Whether a line says something, in any of its words. */
export function saysIn({ moment, signals }: MomentLine, words: string): boolean {
  const wanted = words.trim().toLowerCase()
  return [moment, ...signals].some(({ kind, label, page, selector }) =>
    `${kind} ${label} ${page} ${selector}`.toLowerCase().includes(wanted),
  )
}
