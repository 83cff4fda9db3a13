import type { WeightedPoint } from '@dust-trail/core/density'
import { density } from '@dust-trail/core/density'

export interface HeatRequest {
  id: number
  points: WeightedPoint[]
  width: number
  height: number
  sigma: number
}

export interface HeatAnswer {
  id: number
  raster: Float32Array
}

self.onmessage = ({ data }: MessageEvent<HeatRequest>) => {
  const raster = density(data.points, data.width, data.height, data.sigma)
  self.postMessage({ id: data.id, raster } satisfies HeatAnswer, { transfer: [raster.buffer] })
}
