/** What those who did not go on did instead; the first that applies, in this order. */
export const LEAK_KINDS = ['error', 'back', 'other', 'trouble', 'left'] as const
export type LeakKind = (typeof LEAK_KINDS)[number]
