import { dictionary } from '@zxcvbn-ts/language-common'
import { HttpProblem } from '../http/problems.ts'

const common: ReadonlySet<string> = new Set(dictionary['passwords-common'] as readonly string[])

/** Characters by which people disguise a word, and what they stand for. */
const plainOf: Readonly<Record<string, string>> = { '0': 'o', '1': 'l', '3': 'e', '4': 'a', '5': 's', '7': 't', '@': 'a', $: 's', '!': 'i' }

const undisguised = (text: string): string => text.replace(/[0134579@$!]/g, (sign) => plainOf[sign] ?? sign)

/** True for a password that stands in a list of common ones, with or without figures and signs around it, or that is a name of its owner. */
export const isCommonPassword = (password: string, name: string): boolean => {
  const text = password.normalize('NFKC').toLowerCase()
  const bare = text.replace(/^[\d\W_]+|[\d\W_]+$/g, '')
  const letters = text.replace(/[^\p{L}\p{N}]/gu, '')
  const ofName = name
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '')
  if (new Set(text).size < 4) return true
  if (bare.length === 0 || letters === ofName || (ofName.length > 3 && letters.replace(/\d+$/, '') === ofName)) return true
  return [text, bare, undisguised(text), undisguised(bare)].some((one) => common.has(one))
}

/** @throws HttpProblem 400 for a password that others would guess first */
export const checkPassword = (password: string, name: string): void => {
  if (isCommonPassword(password, name))
    throw new HttpProblem(
      400,
      'password-common',
      'This password is one of those that are tried first.',
      'Take three or four words that do not belong together; nothing was changed.',
      'password',
    )
}
