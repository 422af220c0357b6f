import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { answersOfDay, demoSchool, pageMarkup, pageWords, schoolAnswers, stubBrowser } from '../page-harness.test-data.tsx'
import { SlipsPrint } from './slips.tsx'

const { day, students } = demoSchool
const drivers = students.filter((s) => day.plan.studentIds.includes(s.id))
const [imke] = drivers
const token = 'a'.repeat(32)
const links = [{ studentId: imke.id, dayId: day.id, token, createdAt: '2027-05-14T10:00:00.000Z' }]
const network = { addresses: ['https://192.168.7.3:4180'], onboarding: [], fingerprint: null }
const client = (more: Parameters<typeof schoolAnswers>[1] = [], change: Parameters<typeof answersOfDay>[0] = {}) =>
  schoolAnswers('lead', [...answersOfDay(change), [['days', day.id, 'links'], links], [['network'], network], ...more])

describe('slips of a day', () => {
  beforeEach(() => stubBrowser('http://localhost:4180/brief/slips'))
  afterEach(() => {
    vi.unstubAllGlobals()
  })
  const slipsIn = (markup: string): string[] => markup.split('<article').slice(1)

  it('are one for each student of the day, with that student’s runs and nobody else’s', () => {
    const slips = slipsIn(pageMarkup(client(), <SlipsPrint />))
    expect(slips).toHaveLength(drivers.length)
    drivers.forEach((student, k) => {
      const own = day.plan.slots.filter((slot) => slot.studentId === student.id).map((slot) => slot.start)
      const shown = [...slips[k].matchAll(/>(\d\d:\d\d)</g)].map(([, start]) => start)
      expect(slips[k]).toContain(student.name)
      expect(shown).toEqual(own)
    })
  })

  it('carry a square to scan, at an address that a phone can open, for those who have a link', () => {
    const slips = slipsIn(pageMarkup(client(), <SlipsPrint />))
    expect(slips[0]).toContain(`<title>The page of ${imke.name}</title>`)
    expect(slips.slice(1).every((slip) => !slip.includes('<title>'))).toBe(true)
  })

  it('carry none where phones cannot open the server, and the page says why', () => {
    const alone = client([[['network'], { addresses: [], onboarding: [], fingerprint: null }]])
    expect(pageWords(alone, <SlipsPrint />)).toContain('Phones cannot open this server')
    expect(pageMarkup(alone, <SlipsPrint />)).not.toContain('The page of')
  })

  it('tell times, cars and instructors, or that times are told on the day', () => {
    const words = pageWords(client(), <SlipsPrint />)
    const { plan } = demoSchool.day
    const first = plan.slots.find((s) => s.kind === 'run')
    const car = plan.cars.find((c) => c.id === first?.carId)?.number
    const instructor = demoSchool.accounts.find((a: { id: string }) => a.id === first?.instructorId)?.name
    expect(words).toContain(`${first?.start} Ride-along, car ${car}, with ${instructor}`)
    const none = pageWords(client([], { slots: [] }), <SlipsPrint />)
    expect(none.match(/Times will be told on the day\./g)).toHaveLength(drivers.length)
  })

  it('bear the school’s name, and the group where there is one', () => {
    const settings = { version: 1, schoolSettings: { ...demoSchool.settings.schoolSettings, name: 'Sandpiper School' } }
    const groups = [{ id: 'g', name: 'Early birds', studentIds: [imke.id] }]
    const slips = slipsIn(pageMarkup(client([[['school-settings'], settings]], { groups }), <SlipsPrint />))
    expect(slips.every((slip) => slip.includes('Sandpiper School'))).toBe(true)
    expect(slips.map((slip) => slip.includes('Early birds'))).toEqual(drivers.map((d) => d.id === imke.id))
  })
})
