import { expect, test } from '@playwright/test'
import { ownServer } from './own-server.ts'
import { dayId, enterDemo, get } from './page-fixture.ts'

const server = ownServer('rights')
test.use({ baseURL: server.address })
test.beforeAll(async () => {
  server.clear()
  await server.start()
})
test.afterAll(() => server.kill())

test('a volunteer’s phone is paired by a code, helps at a corner for this day alone, and is signed out', async ({ page, browser }) => {
  await enterDemo(page)
  await page.goto('/school/network')
  await page.getByLabel('Volunteer, or their place').fill('Corner 3')
  await page.getByRole('button', { name: 'Code for a volunteer' }).click()
  const code = await page.getByRole('status', { name: 'Code for Corner 3' }).innerText()
  expect(code).toMatch(/^[A-Z2-9]{4} [A-Z2-9]{4}$/)

  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, baseURL: server.address })
  const phone = await context.newPage()
  await phone.goto('/')
  await phone.getByRole('link', { name: 'Sign in with a code from the desk' }).click()
  await phone.getByLabel('Code from the desk').fill('WRONG222')
  await phone.getByRole('button', { name: 'Sign in for today' }).click()
  await expect(phone.getByRole('alert')).toContainText('This code is wrong')
  await phone.getByLabel('Code from the desk').fill(code.toLowerCase())
  await phone.getByRole('button', { name: 'Sign in for today' }).click()
  await phone.waitForURL('**/run/corner-post')
  await expect(phone.getByRole('button', { name: '3 Long Heron' })).toBeVisible()
  // Names are there to log by; what students told of themselves is not, nor is any other day.
  const students = await get<{ name: string; profile: { worries: string[] } }[]>(phone, '/api/students')
  expect(students.length).toBe(12)
  expect(students.every((student) => student.profile.worries.length === 0)).toBe(true)
  expect((await get<{ id: string }[]>(phone, '/api/days')).map((day) => day.id)).toEqual([dayId])
  expect((await get<{ code: string }>(phone, '/api/students/imke-valderan/record')).code).toBe('not-yours')
  // Other pages lead back to the corner.
  await phone.goto('/record/imke-valderan')
  await phone.waitForURL('**/run/corner-post')

  await expect(page.getByRole('region', { name: 'Corner 3' })).toContainText('Signed in since')
  await page.getByRole('region', { name: 'Corner 3' }).getByRole('button', { name: 'Sign it out' }).click()
  await page.getByRole('region', { name: 'Corner 3' }).getByRole('button', { name: 'Sign it out' }).last().click()
  await expect(page.getByRole('region', { name: 'Corner 3' })).toHaveCount(0)
  await phone.goto('/run/pit-wall')
  await expect(phone.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await context.close()
})

test('an instructor changes their own days and no others; a lead reads who did what', async ({ page, browser }) => {
  await enterDemo(page)
  await page.goto('/school/instructors')
  const form = page.getByRole('form', { name: 'Add an instructor' })
  await form.getByLabel('Instructor’s name').fill('Petra Vossfeld')
  await form.getByLabel('First password').fill('password12345')
  await form.getByRole('button', { name: 'Add the instructor' }).click()
  await expect(page.getByRole('alert')).toContainText('one of those that are tried first')
  await form.getByLabel('First password').fill('otter kettle marsh')
  await form.getByRole('button', { name: 'Add the instructor' }).click()
  await expect(page.getByRole('region', { name: 'Petra Vossfeld' })).toBeVisible()

  const context = await browser.newContext({ baseURL: server.address })
  const desk = await context.newPage()
  await desk.addInitScript(() => localStorage.setItem('ochote.tour', 'seen'))
  await desk.goto('/')
  await desk.getByLabel('Name', { exact: true }).fill('petra VOSSFELD')
  await desk.getByLabel('Password').fill('otter kettle marsh')
  await desk.getByRole('button', { name: 'Sign in', exact: true }).click()
  await desk.getByRole('table', { name: 'Corners' }).waitFor()
  const put = (path: string, body: unknown): Promise<string | undefined> =>
    desk.evaluate(
      ([p, b]) =>
        fetch(p as string, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(b) })
          .then((answer) => answer.json())
          .then((answer: { code?: string }) => answer.code),
      [path, body] as const,
    )
  const day = await get<{ version: number; plan: object }>(desk, `/api/days/${dayId}`)
  expect(await put(`/api/days/${dayId}`, { version: day.version, plan: day.plan })).toBe('not-yours')
  await desk.goto('/record/imke-valderan')
  // Told only by the record itself, and so after it was read.
  await expect(desk.getByText('Imke Valderan has not driven yet.')).toBeVisible()
  await desk.goto('/school/safe')
  await expect(desk.getByRole('main')).toContainText('The lead keeps the school’s data safe')
  // Their own password, and where they are signed in.
  await desk.goto('/school/access')
  await desk.getByLabel('Old password').fill('otter kettle marsh')
  await desk.getByLabel('New password for me').fill('badger under bridges')
  await desk.getByRole('button', { name: 'Change it' }).click()
  await expect(desk.getByText('The password is changed.')).toBeVisible()
  await expect(desk.getByRole('region', { name: 'Where I am signed in' })).toContainText('this computer')

  await page.goto('/school/safe')
  const trail = page.getByRole('table', { name: 'Who did what' })
  await expect(trail.getByRole('row', { name: /Petra Vossfeld saw: a student’s record Imke Valderan/ })).toBeVisible()
  await expect(trail.getByRole('row', { name: /Marit Oakhanger changed: an account/ }).first()).toBeVisible()
  await expect(page.getByText('Every line is as it was written.')).toBeVisible()
  await context.close()
})
