// Threads of the server run from dist/ in tests too: before the first test it is made sure that it is what the sources say.
import { ensureBuilt } from './lib/build.mjs'

export default ensureBuilt
