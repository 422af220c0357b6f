import { CoreError } from '@ochote/core'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { ApiProblem } from '../data/api/api-client.ts'
import { ProblemNote } from './problem-note.tsx'

const shown = (error: unknown, language?: 'en' | 'de'): string =>
  renderToStaticMarkup(<ProblemNote error={error} {...(language ? { language } : {})} />)
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

const fromServer = new ApiProblem({
  type: 'urn:ochote:problem:log-elsewhere',
  title: 'This log was driven at least 900 m away from this circuit.',
  status: 422,
  code: 'log-elsewhere',
  place: 'row 3',
  remedy: 'Choose the log of this circuit.',
  data: { distance_m: 900 },
})

describe('a problem on a page', () => {
  it('is said in the reader’s language, with place and remedy', () => {
    expect(shown(fromServer)).toBe('This log was driven at least 900 m away from this circuit. At row 3. Choose the log of this circuit.')
    const german = shown(fromServer, 'de')
    expect(german).toContain('mindestens 900 m von dieser Strecke entfernt')
    expect(german).toContain('Stelle: Zeile 3.')
    expect(german).not.toMatch(/\b(the|this|log of)\b/i)
  })

  it('keeps the server’s words where a language has none for the code', () => {
    const { problem } = fromServer
    expect(shown(new ApiProblem({ ...problem, code: 'lead-only', title: 'Only the lead may do this.' }), 'de')).toContain('Only the lead')
  })

  it('says errors of the computation likewise, and says what is kept where it knows nothing else', () => {
    expect(shown(new CoreError('circuit-duplicate-point', 'row 7'), 'de')).toContain('Zwei benachbarte Punkte')
    expect(shown(new TypeError('no'))).toContain('Nothing you entered is lost')
    expect(shown(null)).toBe('')
  })
})
