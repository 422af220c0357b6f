/** How names are compared: whatever the case, the spelling in Unicode, and the blanks. */
export const nameKey = (name: string): string => name.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim()
