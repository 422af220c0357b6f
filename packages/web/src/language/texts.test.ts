import { readdirSync, readFileSync } from 'node:fs'
import { parseSync } from 'vite'
import { describe, expect, it } from 'vitest'
import german from './staff-german.json' with { type: 'json' }

const source = new URL('../', import.meta.url).pathname

/** Files of the pages, without tests. */
const files = readdirSync(source, { recursive: true, encoding: 'utf8' }).filter((f) => /\.tsx?$/.test(f) && !/\.test(-data)?\./.test(f))

type Node = { type: string; [key: string]: unknown }
const isNode = (value: unknown): value is Node => typeof value === 'object' && value !== null && 'type' in value

/** Every node below one, itself included. */
function* nodesOf(node: Node): Generator<Node> {
  yield node
  for (const value of Object.values(node))
    for (const child of Array.isArray(value) ? value : [value]) if (isNode(child)) yield* nodesOf(child)
}

/** The texts that a file says, each as the table has it. */
const saidIn = (file: string): string[] =>
  [...nodesOf(parseSync(file, readFileSync(source + file, 'utf8')).program as unknown as Node)].flatMap((node) => {
    if (node.type !== 'TaggedTemplateExpression' || (node.tag as { name?: string }).name !== 'say') return []
    const { quasis } = node.quasi as { quasis: { value: { cooked: string } }[] }
    return [quasis.map((q) => q.value.cooked).join('{}')]
  })

/** Text that a page shows between its tags, without a word around it. */
const bareIn = (file: string): string[] =>
  [...nodesOf(parseSync(file, readFileSync(source + file, 'utf8')).program as unknown as Node)].flatMap((node) => {
    if (node.type !== 'JSXText') return []
    const text = String(node.value).replace(/\s+/g, ' ').trim()
    return /\p{Letter}{2}.* .*\p{Letter}{2}/u.test(text) ? [`${file}: ${text}`] : []
  })

describe('texts of the pages', () => {
  it('all have German words', () => {
    const said = files.flatMap(saidIn)
    expect(said.length).toBeGreaterThan(1000)
    expect([...new Set(said)].filter((text) => !(text in german))).toEqual([])
  })

  it('stand nowhere between tags without being said in the staff’s language', () => {
    const elsewhere = /^(stages\/student|app\/parts-page)/
    expect(files.filter((f) => f.endsWith('.tsx') && !elsewhere.test(f)).flatMap(bareIn)).toEqual([])
  })
})
