import { z } from 'zod'
import { readStored, writeStored } from '../ui/stored.ts'

/** The list from which a session was opened: its sessions, each with the moment it opens at. */
const listSchema = z.array(z.object({ id: z.string(), momentMs: z.number().nullable() }))
export type WatchList = z.infer<typeof listSchema>

const NAME = 'watch list'

export function keepWatchList(list: WatchList): void {
  writeStored(NAME, list)
}

/** Where a session stands in the list that was opened last, and its neighbours; undefined where it is in none. */
export function placeInList(
  id: string,
):
  | { at: number; of: number; before: WatchList[number] | undefined; next: WatchList[number] | undefined }
  | undefined {
  const list = readStored(NAME, listSchema, [])
  const at = list.findIndex((one) => one.id === id)
  return at < 0 ? undefined : { at, of: list.length, before: list[at - 1], next: list[at + 1] }
}
