import { readStaffTexts, staffLanguage } from './language/say.ts'

document.documentElement.lang = staffLanguage
// A device that cannot read them, e.g. without a network after a new version, opens in English all the same.
await readStaffTexts().catch(() => {})
await import('./app/start.tsx')
