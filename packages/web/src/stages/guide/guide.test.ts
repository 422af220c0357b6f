import { languages } from '@ochote/core'
import { describe, expect, it } from 'vitest'
import { findInGuide, guideIn, guidePicture } from './guide-text.ts'

const english = guideIn('en')
const headings = (text: string): number => (text.match(/^##+ /gm) ?? []).length

describe('the guide', () => {
  it('has every page in every language, with the same sections, tables and commands', () => {
    for (const language of languages) {
      const pages = guideIn(language)
      expect(pages.map((p) => p.id)).toEqual(english.map((p) => p.id))
      pages.forEach((page, k) => {
        expect(page.text.length, `${language} ${page.id}`).toBeGreaterThan(1000)
        expect(page.title, `${language} ${page.id}`).not.toBe(page.id)
        expect(headings(page.text), `${language} ${page.id}`).toBe(headings(english[k].text))
        const rows = (text: string): number => (text.match(/^\|/gm) ?? []).length
        expect(rows(page.text), `${language} ${page.id}`).toBe(rows(english[k].text))
        const commands = (text: string): string[] => text.match(/^bin\/.*$/gm) ?? []
        expect(commands(page.text)).toEqual(commands(english[k].text))
      })
    }
  })

  it('links to pages that are there', () => {
    const ids = new Set(english.map((p) => `${p.id}.md`))
    for (const language of languages)
      for (const { text } of guideIn(language)) for (const [, file] of text.matchAll(/\]\(([a-z]+\.md)\)/g)) expect(ids).toContain(file)
  })

  it('is searched by all words, in heading or line', () => {
    const [first] = findInGuide(english, 'sighter apex')
    expect(first).toMatchObject({ pageId: 'preparing', heading: 'Cones' })
    expect(findInGuide(guideIn('de'), 'router bus')[0].pageId).toBe('network')
    expect(findInGuide(english, 'xylophone')).toEqual([])
    expect(findInGuide(english, ' ')).toEqual([])
  })

  it('has pictures that exist', () => {
    for (const id of ['start', 'preparing', 'running', 'reviewing']) expect(guidePicture(id), id).toBeTruthy()
    expect(guidePicture('files')).toBeUndefined()
  })
})
