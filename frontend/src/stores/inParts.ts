// A file that is sent in parts, and what the server does with it asked for until it waits for somebody.

export const ASK_AGAIN_MS = 400

/** Send what has not arrived yet, part by part; `put` gives how far it has come, `seen` is told, and says whether to go on. */
export async function sendParts<One extends { received: number; part: number }>(
  file: Blob,
  begun: One,
  put: (one: One, part: Blob) => Promise<One>,
  seen: (one: One) => boolean,
) {
  let one = begun
  while (one.received < file.size) {
    one = await put(one, file.slice(one.received, one.received + one.part))
    if (!seen(one)) return
  }
}

/** How a part goes over the line: as it is. */
export const asBytes = (part: Blob) => ({
  headers: { 'Content-Type': 'application/octet-stream' },
  body: part as unknown as string,
  bodySerializer: (body: unknown) => body as BodyInit,
})
