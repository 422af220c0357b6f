/** True while somebody types or chooses in a field: keys belong to it then. */
export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.matches('input, textarea, select, [role="combobox"], [role="listbox"], [role="option"], [role="slider"]') ||
    target.isContentEditable)
