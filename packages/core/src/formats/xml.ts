import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { CoreError } from '../errors/errors.ts'

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
