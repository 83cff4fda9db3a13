export * from './frame.ts'
export * from './rebuild.ts'
export * from './safe-node.ts'
export * from './stage.ts'
