import { ThemeProvider } from '@mui/material'
import type { ReactElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { makeTheme } from '../../look/theme.tsx'
import { conditionInWords, isGrounded } from '../../shared/condition-words.ts'
import { CarAfterRun } from './car-condition.tsx'
import { CheckOff } from './check-off.tsx'
import { wallClock } from './run-words.ts'

const markup = (element: ReactElement): string =>
  renderToStaticMarkup(<ThemeProvider theme={makeTheme(false)}>{element}</ThemeProvider>).replace(/<style[\s\S]*?<\/style>/g, '')
const words = (element: ReactElement): string =>
  markup(element)
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

describe('before rolling', () => {
  const lines = ['Belts', 'Radio heard']

  it('asks each line, with one touch for all of them once they were seen', () => {
    const text = words(<CheckOff lines={lines} checked={null} onCheck={() => {}} />)
    expect(text).toBe('Belts Radio heard Look at each first')
  })

  it('says when it was done and what was not well', () => {
    expect(words(<CheckOff lines={lines} checked={{ at: '2027-05-15T09:41:00Z', open: [] }} onCheck={() => {}} />)).toBe(
      `Checked at ${wallClock('2027-05-15T09:41:00Z', false)}: all OK`,
    )
    expect(words(<CheckOff lines={lines} checked={{ at: '2027-05-15T09:41:00Z', open: ['Belts'] }} onCheck={() => {}} />)).toBe(
      `Not well at ${wallClock('2027-05-15T09:41:00Z', false)}: Belts`,
    )
  })

  it('is not there where a school looks over nothing', () => {
    expect(words(<CheckOff lines={[]} checked={null} onCheck={() => {}} />)).toBe('')
  })
})

describe('the car after a run', () => {
  it('asks one part at a time, with three big targets', () => {
    const html = markup(<CarAfterRun number="3" told={null} onTell={() => {}} />)
    expect(html.match(/<button/g)).toHaveLength(3)
    expect(html).toContain('Car 3, brakes?')
  })

  it('is told in words to whoever takes it next, and nothing where all is good', () => {
    expect(conditionInWords({ brakes: 'good', tyres: 'good', other: 'good' })).toBeNull()
    expect(isGrounded({ brakes: 'good', tyres: 'watch', other: 'good' })).toBe(false)
    expect(isGrounded({ brakes: 'good', tyres: 'good', other: 'stop' })).toBe(true)
    expect(conditionInWords({ brakes: 'watch', tyres: 'good', other: 'stop' })).toBe('brakes: keep an eye on; anything else: do not drive')
    expect(words(<CarAfterRun number="3" told={{ brakes: 'watch', tyres: 'good', other: 'good' }} onTell={() => {}} />)).toContain(
      'Car 3: brakes: keep an eye on, kept for whoever takes it next.',
    )
  })
})
