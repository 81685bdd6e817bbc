/** Pictures for tests: drawn from SVG, with real letters and smoothed edges. */
import sharp from 'sharp'
import type { Pixels } from '../pixels'

export async function draw(
  inner: string,
  { width = 640, height = 400, ground = '#ffffff' } = {},
): Promise<Pixels> {
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" ` +
    `height="100%" fill="${ground}"/>${inner}</svg>`
  const { data, info } = await sharp(Buffer.from(svg))
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
  return { width: info.width, height: info.height, data: new Uint8Array(data) }
}

export const words = (x: number, y: number, text: string, more = '') =>
  `<text x="${x}" y="${y}" font-family="DejaVu Sans" font-size="16" fill="#202020" ${more}>${text}</text>`
export const block = (x: number, y: number, w: number, h: number, fill: string, more = '') =>
  `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${fill}" ${more}/>`
