import { ThemeProvider } from '@mui/material'
import { type StoredSchoolSettings, schoolSettingsSchema } from '@ochote/contract'
import { channelNames as allChannels, type LogMapping, ownThresholds } from '@ochote/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { describe, expect, it } from 'vitest'
import { schoolSettingsQuery } from '../../data/api/queries.ts'
import { makeTheme } from '../../look/theme.tsx'
import { wordsIn } from '../../shared/language/words.ts'
import { LogSending, type LogStep } from '../../shared/log-sending.tsx'
import { channelNames, LogColumns } from './log-columns.tsx'
import { ThresholdsPage } from './thresholds-page.tsx'

/** A page's markup without styles; `thresholds`: what the school has set. */
const markup = (element: ReactElement, thresholds: Record<string, number> = {}): string => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Number.POSITIVE_INFINITY } } })
  client.setQueryData<StoredSchoolSettings>(schoolSettingsQuery.queryKey, {
    version: 1,
    schoolSettings: schoolSettingsSchema.parse({ thresholds }),
  })
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <ThemeProvider theme={makeTheme(false)}>
        <MemoryRouter>{element}</MemoryRouter>
      </ThemeProvider>
    </QueryClientProvider>,
  ).replace(/<style[\s\S]*?<\/style>/g, '')
}
const words = (html: string): string =>
  html
    .replace(/<[^>]+>|\u200b/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

describe('how far a log is', () => {
  const steps: LogStep['step'][] = ['sending', 'reading', 'matching', 'judging', 'storing']

  it('is told in words and a share, each step in its own words, in both languages', () => {
    for (const language of ['en', 'de'] as const) {
      const own = wordsIn(language).phone.logSteps
      const told = steps.map((step) => words(markup(<LogSending step={{ step, share: 0.426 }} words={own} />)))
      expect(new Set(told).size).toBe(steps.length)
      for (const [k, text] of told.entries()) expect(text).toBe(`${own[steps[k]]}, 43%`)
    }
  })

  it('is a status that a screen reader hears, without the bar', () => {
    const html = markup(<LogSending step={{ step: 'sending', share: 0.5 }} />)
    expect(html).toMatch(/role="status" aria-label="Sending the log"/)
    const [bar] = html.match(/<span[^>]*role="progressbar"[^>]*>/) ?? ['']
    expect(bar).toContain('aria-hidden="true"')
    expect(bar).toContain('aria-valuenow="50"')
  })
})

describe('what is what in a file', () => {
  const columns = [
    { name: 'Elapsed', sample: [1, 2.5, null] },
    { name: 'V', sample: [31.25, 40.123456789, 12] },
  ]
  const mapping: LogMapping = { time: { column: 'Elapsed', unit: 's' }, speed: { column: 'V', unit: 'mph' } }
  const html = markup(<LogColumns columns={columns} mapping={mapping} onMap={() => {}} />)
  const rows = [...html.matchAll(/<tr[^>]*>([\s\S]*?)<\/tr>/g)].map((m) => words(m[1]))

  it('has a row for every channel, with its column, unit and a few values', () => {
    expect(rows).toHaveLength(allChannels.length + 1)
    for (const channel of allChannels) expect(rows.some((row) => row.startsWith(channelNames[channel]))).toBe(true)
    expect(rows.find((row) => row.startsWith('Time'))).toBe('Time Elapsed s 1 · 2.5 · –')
    expect(rows.find((row) => row.startsWith('Speed'))).toBe('Speed V mph 31.25 · 40.1235 · 12')
  })

  it('says of a channel that the file does not have just that, and asks for no unit', () => {
    expect(rows.find((row) => row.startsWith('Brake'))).toBe('Brake not in this file')
    expect(html).not.toContain('aria-label="Unit of brake"')
    expect(html).toContain('aria-label="Unit of speed"')
    expect(html).toContain('aria-label="Column of engine speed"')
  })
})

describe('what counts as a mistake', () => {
  it('lists every threshold with what it measures and its usual value', () => {
    const html = markup(<ThresholdsPage />)
    expect(html.match(/<tr/g)).toHaveLength(Object.keys(ownThresholds).length + 1)
    const text = words(html)
    expect(text).toContain(
      'Braked early, lifted early on the brake, or off the throttle, earlier than the reference by more than m 8 m and by more than this time at its speed s 0.35 s',
    )
    expect(text).toContain('Soft on the brake hardest braking below this share of the reference’s % 75%')
    expect(text).toContain('Turned in early, turned in late turn-in earlier or later than the reference’s by more than m 5 m')
    expect(html).not.toMatch(/>reset</)
    expect(html).toMatch(/<button[^>]*disabled=""[^>]*>Reset all/)
  })

  it('shows what the school has set beside it, to be taken back', () => {
    const html = markup(<ThresholdsPage />, { softPeak: 0.6, turnIn_m: 7.5 })
    expect(html.match(/>reset</g)).toHaveLength(2)
    expect(html).toMatch(/value="60"/)
    expect(html).toMatch(/value="7.5"/)
    expect(html).toContain('aria-label="Soft on the brake: reset"')
    expect(html).not.toMatch(/<button[^>]*disabled=""[^>]*>Reset all/)
  })
})
