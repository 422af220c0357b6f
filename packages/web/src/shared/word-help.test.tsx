import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { WordHelp } from './word-help.tsx'
import { type ExplainedWord, explained } from './word-help-words.ts'

const words = Object.keys(explained) as ExplainedWord[]

const pages = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() ? pages(join(folder, entry.name)) : /(?<!\.test)\.tsx$/.test(entry.name) ? [join(folder, entry.name)] : [],
  )

describe('words that are explained', () => {
  it('say what the thing is and what to do with it, in two sentences or three short ones', () => {
    for (const word of words) {
      const [, meaning] = explained[word]
      const sentences = meaning.split(/(?<=\.) /).length
      expect(sentences, word).toBeGreaterThanOrEqual(2)
      expect(sentences, word).toBeLessThanOrEqual(3)
      expect(meaning.length, word).toBeLessThan(260)
    }
  })

  it('each stand on a page', () => {
    const source = pages(new URL('..', import.meta.url).pathname)
      .map((file) => readFileSync(file, 'utf8'))
      .join('\n')
    for (const word of words) expect(source, word).toMatch(new RegExp(`['"]${word}['"]`))
  })

  it('have a mark that is named for those who cannot see it, and closed at first', () => {
    const html = renderToStaticMarkup(<WordHelp word="price" />)
    expect(html).toContain('aria-label="What “Price” means"')
    expect(html).toContain('aria-expanded="false"')
    expect(html).not.toContain('worth, in seconds')
  })
})
