/** Languages in which the product speaks to students. */
export const languages = ['en', 'de'] as const
export type Language = (typeof languages)[number]
