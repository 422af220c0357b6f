import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { FlagSign, flagLook } from './flag-sign.tsx'

describe('a flag by its name', () => {
  it.each([
    ['Red', ['red'], 'plain'],
    ['Yellow, waved', ['yellow'], 'plain'],
    ['Yellow and red stripes', ['yellow', 'red'], 'striped'],
    ['Striped', ['yellow', 'red'], 'striped'],
    ['Chequered', ['black', 'white'], 'chequered'],
    ['Black with orange disc', ['black', 'orange'], 'disc'],
    ['Black and white', ['black', 'white'], 'halved'],
    ['House flag', [], 'plain'],
  ])('%s', (name, colours, pattern) => {
    expect(flagLook(name)).toEqual({ colours, pattern })
  })

  it('differs from every other plain one without its colour', () => {
    const figures = ['Red', 'Yellow', 'Blue', 'Green', 'White', 'Black'].map((name) =>
      renderToStaticMarkup(<FlagSign name={name} />).replace(/#[0-9a-f]{6}/g, ''),
    )
    expect(new Set(figures).size).toBe(figures.length)
  })
})
