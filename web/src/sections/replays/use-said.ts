import type { Endpoint, Said } from '@dust-trail/api'
import type { saidSchema } from '@dust-trail/api'
import { getSaid, listSaid } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import type { z } from 'zod'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'

const NOTHING: Said = { notes: [], tags: [], watched: false, links: [] }

/** What has been said of a session, and how to say more: each change answers with all of it. */
export function useSaid(site: string, id: string) {
  const client = useQueryClient()
  const params = { site, id }
  const said = useEndpoint(getSaid, params, undefined, { keep: false })
  const change = useMutation({
    mutationFn: (asked: () => Promise<Said>) => asked(),
    onSuccess: (next) => {
      client.setQueryData([getSaid.path, params, undefined], next)
      void client.invalidateQueries({ queryKey: [listSaid.path] })
    },
    onError: ({ message }) => toast.error(message),
  })
  return {
    said: said.data ?? NOTHING,
    ready: said.data !== undefined,
    refetch: () => void said.refetch(),
    change: <Body extends z.ZodType>(
      endpoint: Endpoint<Body, typeof saidSchema>,
      body?: z.input<Body>,
      more: Record<string, string | number> = {},
    ) => change.mutate(() => call(endpoint, { ...params, ...more }, body)),
  }
}
