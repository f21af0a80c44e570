/** Sends a light file as it is, so that the one decoder judges it; gives the id of the light it became. */
export async function sendFile(f: File): Promise<string> {
  const response = await fetch('/api/lights', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: f })
  const body = (await response.json()) as { id?: string; detail?: string }
  if (!response.ok) throw new Error(body.detail ?? 'The file cannot be read.')
  return body.id!
}
