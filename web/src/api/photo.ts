import type { Schemas } from './client'

/** A photo is sent no larger than this, px along its longer side (chosen: a millimetre of a board is still seen). */
const longestPx = 2400
const jpegQuality = 0.86

/** Makes a photo smaller before it is sent, upright and without what a camera writes beside it, such as where it was taken. */
async function smaller(file: File): Promise<Blob> {
  let picture: ImageBitmap
  try {
    picture = await createImageBitmap(file, { imageOrientation: 'from-image' })
  } catch {
    throw new Error(`“${file.name}” is no photo that this browser can read: a JPEG or PNG is.`)
  }
  const by = Math.min(1, longestPx / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(picture.width * by))
  canvas.height = Math.max(1, Math.round(picture.height * by))
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', jpegQuality))
  if (!blob) throw new Error(`“${file.name}” cannot be made small enough to keep.`)
  return blob
}

/** Keeps a photo of a light, of a sitting at the bench. */
export async function sendPhoto(light: string, sitting: string, file: File): Promise<void> {
  const body = await smaller(file)
  const query = new URLSearchParams({ sitting, caption: '' })
  const response = await fetch(`/api/lights/${light}/photos?${query}`, { method: 'POST', headers: { 'Content-Type': 'image/jpeg' }, body })
  if (response.ok) return
  const problem = (await response.json().catch(() => ({}))) as Partial<Schemas['ErrorModel']>
  throw new Error(problem.detail ?? 'The photo cannot be kept just now.')
}
