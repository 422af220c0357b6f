import { ThemeProvider } from '@mui/material'
import type { Portal } from '@ochote/contract'
import { coneSchemes, type QuizPicture } from '@ochote/core'
import { QueryClientProvider } from '@tanstack/react-query'
import { renderToStaticMarkup } from 'react-dom/server'
import { createMemoryRouter, RouterProvider } from 'react-router'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { portalQuery, queryClient } from '../../data/api/queries.ts'
import { makeTheme } from '../../look/theme.tsx'
import { CornerPicture } from './corner-picture.tsx'
import { StudentPage } from './student-page.tsx'

const token = 't'.repeat(32)
const portal = (change: Partial<Portal> = {}, language: 'en' | 'de' | null = null): Portal => ({
  student: {
    id: 's',
    name: 'Imke Valderan',
    version: 1,
    level: 'first-day',
    talk: 'guided',
    units: 'metric',
    profile: { experience: 'None yet', car: '', goals: '', worries: ['T2'], language },
  },
  date: '2027-05-15',
  title: 'Sandpiper day',
  venue: 'Ostrel Mere',
  corners: [
    { id: 'T1', name: 'Boathouse' },
    { id: 'T2', name: 'Reedbank' },
  ],
  scheme: coneSchemes[0],
  vehicleName: 'Five-door hatchback',
  changed: null,
  sections: [],
  times: [{ start: '10:00', end: '10:20', kind: 'run', title: 'Ride-along', car: '4', instructor: 'Teo Karvonen-Pike' }],
  parts: { safety: ['Helmets on.'], flags: [], pits: [], signals: [], cones: [], car: [], circuit: [] },
  cautions: [],
  flags: [{ name: 'Red', meaning: 'Stop.' }],
  acknowledged: { flags: '2027-05-15T08:20:00.000Z' },
  radioHeard: null,
  drives: [],
  answered: { right: 0, asked: 0 },
  ...change,
})

/** The words of the page; without data, as it is while they are read. */
const page = (data?: Portal): string => {
  if (data) queryClient.setQueryData(portalQuery(token).queryKey, data)
  const router = createMemoryRouter([{ path: '/s/:token', Component: StudentPage }], { initialEntries: [`/s/${token}`] })
  return renderToStaticMarkup(
    <QueryClientProvider client={queryClient}>
      <ThemeProvider theme={makeTheme(false)}>
        <RouterProvider router={router} />
      </ThemeProvider>
    </QueryClientProvider>,
  )
    .replace(/<style[\s\S]*?<\/style>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/\s+/g, ' ')
}

afterEach(() => {
  queryClient.clear()
  vi.unstubAllGlobals()
})

describe('a student’s page', () => {
  it('asks for a moment in the browser’s language while it is read, and says nothing else', () => {
    vi.stubGlobal('navigator', { language: 'de-CH' })
    expect(page().trim()).toBe('Einen Moment …')
  })

  it('greets by first name, shows what was acknowledged when, and asks for the rest', () => {
    const text = page(portal())
    expect(text).toContain('Hello Imke')
    expect(text).toContain('Flags acknowledged at 08:20')
    expect(text).toContain('Answer when you are called')
    expect(text).toContain('A few questions. Anything you miss comes up again.')
    expect(text).toContain('Never for public roads.')
  })

  it('leaves out parts that the school entered nothing for, but never safety or cones', () => {
    const text = page(portal())
    expect(text).not.toContain('Pits and passing')
    expect(text).toContain('Safety and rules')
    expect(text).toContain('Cones')
    expect(page(portal({ parts: { ...portal().parts, pits: ['Wait for the hand.'] } }))).toContain('Pits and passing')
  })

  it('ends with the product’s caution, and the school’s own after it', () => {
    const words = page(portal({ cautions: ['No helmet, no run.'] }))
    const own = words.indexOf('No helmet, no run.')
    expect(words.indexOf('Never for public roads')).toBeGreaterThan(0)
    expect(own).toBeGreaterThan(words.indexOf('Never for public roads'))
  })

  it('speaks the student’s language, English where none was chosen', () => {
    expect(page(portal({}, 'de'))).toContain('Hallo Imke')
    expect(page(portal({}, null))).toContain('Hello Imke')
  })

  it('tells how the quiz went so far', () => {
    expect(page(portal({ drives: [], answered: { right: 5, asked: 8 } }))).toContain('5 of 8 right so far')
  })
})

describe('a corner to tap on', () => {
  const picture: QuizPicture = { left: [0, 6, 100, 6, 200, 6], right: [0, -6, 100, -6, 200, -6], travel: [0, 0, 100, 0, 200, 0] }
  const svg = (placed: { x_m: number; y_m: number } | null, right: { x_m: number; y_m: number } | null): string =>
    renderToStaticMarkup(<CornerPicture picture={picture} placed={placed} right={right} label="corner" onPlace={() => {}} />)

  it('shows the road with its direction, and nothing of the answer before it is given', () => {
    const bare = svg(null, null)
    expect(bare.match(/<polygon/g)).toHaveLength(1)
    expect(bare.match(/M-3.4 -2.4/g)).toHaveLength(2)
    expect(bare).not.toContain('<circle')
    expect(bare).not.toContain('var(--accent)')
  })

  it('shows what was tapped, and then what is right, north up', () => {
    expect(svg({ x_m: 40, y_m: 2 }, null)).toContain('translate(40 -2)')
    const told = svg({ x_m: 40, y_m: 2 }, { x_m: 60, y_m: 0 })
    expect(told).toContain('var(--accent)')
    expect(told).toContain('translate(60 0)')
  })

  it('holds the whole corner in its square', () => {
    const [x, y, w, h] = /viewBox="([^"]+)"/.exec(svg(null, null))?.[1].split(' ').map(Number) ?? []
    expect(w).toBe(h)
    expect(x).toBeLessThanOrEqual(-8)
    expect(x + w).toBeGreaterThanOrEqual(208)
    expect(y).toBeLessThan(-6)
  })
})
