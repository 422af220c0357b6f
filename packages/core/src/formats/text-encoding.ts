/** Bytes at which an encoding is looked for. */
const LOOK_BYTES = 4096

/** Encodings in which text files come, by their names in the Encoding Standard. */
export type TextEncoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252'

/**
 * Encoding of a text by its first bytes: by its byte order mark; else UTF-16 where every second byte of plain text is 0; else
 * UTF-8, or the usual single-byte one where the bytes cannot be UTF-8.
 */
const encodingOf = (head: Uint8Array): TextEncoding => {
  const [first, second] = head
  if (first === 0xff && second === 0xfe) return 'utf-16le'
  if (first === 0xfe && second === 0xff) return 'utf-16be'
  const looked = Math.min(head.length, LOOK_BYTES)
  const zeros = [0, 0]
  for (let i = 0; i < looked; i++) if (head[i] === 0) zeros[i % 2]++
  if (zeros[1] > looked / 4 && zeros[0] < looked / 20) return 'utf-16le'
  if (zeros[0] > looked / 4 && zeros[1] < looked / 20) return 'utf-16be'
  try {
    // A character that is cut off at the end is no fault.
    new TextDecoder('utf-8', { fatal: true }).decode(head.subarray(0, looked), { stream: true })
    return 'utf-8'
  } catch {
    return 'windows-1252'
  }
}

/** A text file as text, whatever its encoding; a byte order mark is left out. */
export const decodeText = (bytes: Uint8Array): string => new TextDecoder(encodingOf(bytes)).decode(bytes)

/** Bytes that come in pieces as text, in the encoding that the first piece shows. */
export const decodedPieces = async function* (pieces: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  let decoder: InstanceType<typeof TextDecoder> | null = null
  for await (const bytes of pieces) {
    decoder ??= new TextDecoder(encodingOf(bytes))
    yield decoder.decode(bytes, { stream: true })
  }
  if (decoder) yield decoder.decode()
}
