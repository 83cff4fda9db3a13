/* Writes the description of the API, which takes longer to make than a request may wait, when the product is built. */
import { writeFileSync } from 'node:fs'
import { openApi } from '@dust-trail/api'

const [file] = process.argv.slice(2)
if (!file) throw new Error('Name the file to write.')
writeFileSync(file, JSON.stringify(openApi()))
