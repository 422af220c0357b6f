import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { CoreError } from '../errors/errors.ts'

/** Characters of the longest tag that is read: real ones have a few hundred. */
const LONGEST_TAG = 20_000

/** True where a tag goes on for longer than any real one: a parser would look for its end again and again. Cost: linear. */
const hasEndlessTag = (text: string): boolean => {
  for (let from = text.indexOf('<'); from >= 0; ) {
    const to = text.indexOf('>', from)
    const isTag = !text.startsWith('<!--', from) && !text.startsWith('<![CDATA[', from)
    if (isTag && (to < 0 ? text.length : to) - from > LONGEST_TAG) return true
    if (to < 0) return false
    from = text.indexOf('<', to)
  }
  return false
}

/**
 * Parses an XML document into plain objects: attributes as fields, namespaces left out, every element of `lists` an array.
 * @param expected what the file should be, for the message
 * @throws CoreError 'file-unreadable' for broken XML, and for documents with a type definition, which are not read
 */
export const parseXml = (text: string, expected: string, lists: ReadonlySet<string>): unknown => {
  const unreadable = (why: string): CoreError => new CoreError('file-unreadable', 'file', { expected, why })
  // Definitions could make other text of what stands there.
  if (/<!DOCTYPE|<!ENTITY/i.test(text.slice(0, 100_000)))
    throw unreadable('it has a document type definition (DOCTYPE); save it without one')
  if (hasEndlessTag(text)) throw unreadable('one of its tags does not end')
  const valid = XMLValidator.validate(text)
  if (valid !== true) throw unreadable(`XML is broken in line ${valid.err.line}`)
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    removeNSPrefix: true,
    isArray: (name) => lists.has(name),
  })
  try {
    return parser.parse(text)
  } catch (error) {
    throw unreadable((error as Error).message.slice(0, 80))
  }
}
