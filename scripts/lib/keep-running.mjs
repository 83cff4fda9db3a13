// A process that is started again when it ends unexpectedly. Plain Node.

const PAUSE_MS = 300
/** A process that ends so often within so long, each time soon after its start, has a fault that starting again does not mend. */
const MOST_ENDS = 5
const WITHIN_MS = 60_000
const SOON_MS = 2000

/**
 * Starts a process and, once it has been ready, starts it again whenever it ends.
 *
 * @param launch  gives a new child process
 * @param again   called with each that was started again
 * @returns { child, exited, stop, isReady }: `exited` settles when it is given up, or was stopped; `child` is the present one
 */
export function keepRunning(launch, again = () => undefined) {
  let stopping = false
  let ready = false
  let ends = []
  let settle
  const exited = new Promise((resolve) => (settle = resolve))
  const part = {
    child: undefined,
    exited,
    isReady: () => (ready = true),
    async stop(patienceMs) {
      stopping = true
      const { child } = part
      if (child.exitCode !== null || child.signalCode !== null) return settle(child.exitCode)
      child.kill('SIGTERM')
      const timer = setTimeout(() => child.kill('SIGKILL'), patienceMs)
      await exited
      clearTimeout(timer)
    },
  }
  const start = () => {
    const child = launch()
    const startedMs = Date.now()
    part.child = child
    let gone = false
    const ended = (code) => {
      if (gone) return
      gone = true
      const nowMs = Date.now()
      ends = ends.filter((ms) => ms > nowMs - WITHIN_MS)
      if (nowMs - startedMs < SOON_MS) ends.push(nowMs)
      if (stopping || !ready || ends.length > MOST_ENDS) {
        settle(code)
        return
      }
      setTimeout(() => {
        if (stopping) settle(code)
        else again(start())
      }, PAUSE_MS)
    }
    child.on('error', () => ended(-1))
    child.on('exit', ended)
    return child
  }
  start()
  return part
}
