import { api } from '../project/api.ts'
import type { ShownPicture } from './pictures.ts'

/** Keeps a small picture of what was open for the shelf. A thumbnail that can not be kept is no loss. */
export function keepThumbnail(project: string, picture: ShownPicture | null): void {
  if (!project || !picture) return
  const { pixels, width, height } = picture
  const whole = new OffscreenCanvas(width, height)
  whole.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0)
  const small = new OffscreenCanvas(320, Math.round((320 * height) / width))
  const context = small.getContext('2d')!
  context.imageSmoothingQuality = 'high'
  context.drawImage(whole, 0, 0, small.width, small.height)
  void small
    .convertToBlob({ type: 'image/png' })
    .then((png) => api.putThumbnail(project, png))
    .catch(() => {})
}
