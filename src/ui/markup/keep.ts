import type Konva from 'konva'
import type { Marks } from './marks'

/** The picture as it is marked, in its own size, as PNG in base64. What only helps while drawing is left
 * out. @throws {Error} the browser could not make it */
export async function pngOf(stage: Konva.Stage, { width, height, crop }: Marks): Promise<string> {
  const zoom = stage.scaleX()
  const part = crop ?? { x: 0, y: 0, w: width, h: height }
  const aids = stage.findOne('.aids')
  aids?.hide()
  const blob = await stage
    .toBlob({
      mimeType: 'image/png',
      pixelRatio: 1 / zoom,
      x: part.x * zoom,
      y: part.y * zoom,
      width: part.w * zoom,
      height: part.h * zoom,
    })
    .finally(() => aids?.show())
  const text = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result))
    reader.onerror = () => reject(new Error('The marked picture could not be read.'))
    reader.readAsDataURL(blob as Blob)
  })
  return text.slice(text.indexOf(',') + 1)
}
