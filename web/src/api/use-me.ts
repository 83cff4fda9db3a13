import { getMe } from '@dust-trail/api'
import { useEndpoint } from './use-endpoint.ts'

/** Who is signed in, and what they may do where. */
export const useMe = () => useEndpoint(getMe, {}, undefined)
