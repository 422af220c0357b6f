import { describe, expect, it } from 'vitest'
import { pageMarkup, pageWords, schoolAnswers } from '../page-harness.test-data.tsx'
import { AccessPage } from './access-page.tsx'
import { SafePage } from './safe-page.tsx'

const session = (change: object = {}) => ({
  id: 's1',
  device: 'computer',
  createdAt: '2027-05-15T06:00:00.000Z',
  usedAt: '2027-05-15T09:30:00.000Z',
  until: '2027-05-29T09:30:00.000Z',
  current: true,
  ...change,
})

describe('the page of one’s own access', () => {
  it('names where one is signed in, this device first, and offers to sign out all others', () => {
    const sessions = [session(), session({ id: 's2', device: 'handheld', current: false })]
    const words = pageWords(schoolAnswers('instructor', [[['own-sessions'], sessions]]), <AccessPage />)
    expect(words).toContain('this computer')
    expect(words).toContain('phone or tablet')
    expect(words).toContain('Sign out everywhere else')
    const alone = pageWords(schoolAnswers('instructor', [[['own-sessions'], [session()]]]), <AccessPage />)
    expect(alone).not.toContain('Sign out everywhere else')
  })

  it('offers an authenticator, or says that there is one', () => {
    const client = schoolAnswers('lead', [[['own-sessions'], []]])
    expect(pageWords(client, <AccessPage />)).toContain('Set it up')
    const state = client.getQueryData<{ account: object }>(['session'])
    client.setQueryData(['session'], { ...state, account: { ...state?.account, codes: true } })
    expect(pageWords(client, <AccessPage />)).toContain('Signing in asks for six digits of your authenticator, too.')
  })
})

const health = (change: object = {}) => ({
  version: '0.2.0',
  database: { file: '/data/ochote.sqlite', journal: 'wal', size_bytes: 8_000_000, checkedAt: null },
  migrations: [],
  broken: [],
  storage: { problem: null, low: false, free_bytes: 73e9 },
  backup: null,
  failures: 0,
  ...change,
})
const backup = { name: 'a.nightly.sqlite', at: '2027-05-15T03:00:00.000Z', reason: 'nightly', size_bytes: 8_100_000, checked: true }
const line = (change: object = {}) => ({
  seq: 1,
  at: '2027-05-15T09:00:00.000Z',
  by: 'Dunstan Ilves',
  what: 'seen',
  call: 'record',
  about: 'student:gone',
  ...change,
})
const trail = (lines: object[], change: object = {}) => ({
  pages: [{ lines, next: null, whole: true, brokenAt: null, ...change }],
  pageParams: [undefined],
})

describe('the page of safekeeping', () => {
  it('warns while there is no backup, and names the newest once there is one', () => {
    const without = schoolAnswers('lead', [
      [['server-health'], health()],
      [['backups'], []],
      [['trail'], trail([])],
    ])
    expect(pageWords(without, <SafePage />)).toContain('There is no backup yet.')
    const withOne = schoolAnswers('lead', [
      [['server-health'], health({ backup })],
      [['backups'], [backup, { ...backup, name: 'old.sqlite', reason: 'before-upgrade', checked: false }]],
      [['trail'], trail([])],
    ])
    const words = pageWords(withOne, <SafePage />)
    expect(words).toContain('version 0.2.0 · database 8.0 MB · 73.0 GB free on the disk · last good backup 15 May 2027')
    expect(words).toContain('every night')
    expect(words).toContain('before an upgrade, not checked')
    expect(words).not.toContain('There is no backup yet.')
  })

  it('tells who did what in words, and names the line that was tampered with', () => {
    const answers = (pages: object) =>
      schoolAnswers('lead', [
        [['server-health'], health()],
        [['backups'], []],
        [['trail'], pages],
      ])
    const [student] = answers(trail([])).getQueryData<{ id: string; name: string }[]>(['students']) ?? []
    const lines = [
      line({ seq: 2, about: `student:${student.id}` }),
      line({ by: null, what: 'sign-in-failed', call: 'signIn', about: null }),
    ]
    const words = pageWords(answers(trail(lines)), <SafePage />)
    expect(words).toContain('saw: a student’s record')
    expect(words).toContain(student.name)
    expect(words).toContain('wrong sign-in: by name and password')
    expect(words).toContain('Every line is as it was written.')
    const broken = pageWords(answers(trail(lines, { whole: false, brokenAt: 7 })), <SafePage />)
    expect(broken).toContain('Line 7 was changed or taken out')
  })

  it('is for leads, and says so to others', () => {
    const markup = pageMarkup(schoolAnswers('instructor'), <SafePage />)
    expect(markup).toContain('The lead keeps the school’s data safe')
    expect(markup).not.toContain('Make one now')
  })
})
