export * from './batch.ts'
export * from './endpoint.ts'
export * from './endpoints.ts'
