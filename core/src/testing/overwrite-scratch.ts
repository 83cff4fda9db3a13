import { scratchRules } from '../columns/scratch.ts'

// Scratch memory that is no longer valid is overwritten, so that a test fails where it is read too late.
scratchRules.overwriteReturned = true
