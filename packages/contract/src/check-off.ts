import { z } from 'zod'

/** Checks before a car rolls; a school may change them. */
export const checkOffSchema = z
  .array(z.string().trim().min(1).max(80))
  .max(12)
  .default(['Belts and helmet', 'Mirrors, the instructor’s too', 'Windows', 'Shifter and aids as agreed', 'Radio heard', 'Logger records'])
