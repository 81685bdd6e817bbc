/** A decoded picture: four bytes a pixel, red, green, blue, opacity, row by row from the top. */
export type Pixels = { width: number; height: number; data: Uint8Array }
/** In pixels; `x`, `y`: its upper left corner. */
export type Box = { x: number; y: number; w: number; h: number }

/** The upper left part of a picture; the picture itself when that is all of it. */
export function cropped({ width, height, data }: Pixels, w: number, h: number): Pixels {
  if (width === w && height === h) return { width, height, data }
  const part = new Uint8Array(w * h * 4)
  for (let y = 0; y < h; y++) part.set(data.subarray(y * width * 4, (y * width + w) * 4), y * w * 4)
  return { width: w, height: h, data: part }
}

/** Pixels as one number each, for comparing. */
export const wordsOf = ({ data }: Pixels): Uint32Array =>
  data.byteOffset % 4 === 0
    ? new Uint32Array(data.buffer, data.byteOffset, data.length >> 2)
    : new Uint32Array(data.slice().buffer)

export const union = (a: Box, b: Box): Box => {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)]
  return { x, y, w: Math.max(a.x + a.w, b.x + b.w) - x, h: Math.max(a.y + a.h, b.y + b.h) - y }
}
