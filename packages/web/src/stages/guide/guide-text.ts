import type { Language } from '@ochote/core'

/** One page of the guide: its file without the ending, its title, and its text. */
export type GuidePage = { id: string; title: string; text: string }

const files = import.meta.glob<string>('../../../../../docs/guide/*/*.md', { query: '?raw', import: 'default', eager: true })
const pictures = import.meta.glob<string>('../../../../../docs/screenshots/*.png', { query: '?url', import: 'default', eager: true })

/** The pages in the order in which one needs them. */
const order = ['start', 'preparing', 'running', 'reviewing', 'network', 'safekeeping', 'scale', 'files', 'devices'] as const

/** The picture that goes with a page. */
const pictureOf: Partial<Record<(typeof order)[number], string>> = {
  start: 'day',
  preparing: 'cones',
  running: 'run-tablet',
  reviewing: 'debrief',
  devices: 'pit-wall',
}

/** The guide in a language, from the Markdown of the repository. */
export const guideIn = (language: Language): GuidePage[] =>
  order.map((id) => {
    const text = files[`../../../../../docs/guide/${language}/${id}.md`] ?? ''
    return { id, title: /^# (.*)$/m.exec(text)?.[1] ?? id, text: text.replace(/^# .*\n/, '') }
  })

/** Address of the picture of a page; undefined where it has none. */
export const guidePicture = (id: string): string | undefined =>
  pictures[`../../../../../docs/screenshots/${pictureOf[id as (typeof order)[number]] ?? ''}.png`]

/** Sections whose text holds all words of a search: page, heading, and the line that was found. */
export const findInGuide = (pages: readonly GuidePage[], search: string): { pageId: string; heading: string; line: string }[] => {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return []
  return pages.flatMap(({ id, title, text }) => {
    let heading = title
    return text.split('\n').flatMap((line) => {
      const head = /^#+ (.*)$/.exec(line)?.[1]
      if (head) heading = head
      const plain = line
        .replace(/[*`#|]/g, '')
        .replace(/\[([^\]]*)\]\([^)]*\)/g, '$1')
        .trim()
      const found = words.every((word) => `${heading} ${plain}`.toLowerCase().includes(word)) && plain !== ''
      return found ? [{ pageId: id, heading, line: plain }] : []
    })
  })
}

/** A heading as the part of an address after the hash. */
export const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '')
