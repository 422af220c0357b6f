import { randomInt } from 'node:crypto'

/** Letters and figures that nobody mistakes for each other. */
const SIGNS = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'

/** A random code to be read and typed by people: about five bits a sign. */
export const readableCode = (length: number): string => Array.from({ length }, () => SIGNS[randomInt(SIGNS.length)]).join('')
