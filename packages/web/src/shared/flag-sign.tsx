import { flagColours } from '../look/palette.ts'

type Colour = keyof typeof flagColours
/** Words of the colours, in the languages of schools. */
const called: Record<Colour, RegExp> = {
  red: /\bred\b|\brot/,
  yellow: /yellow|gelb/,
  blue: /blue|blau/,
  green: /green|grün/,
  white: /white|wei(ß|ss)/,
  black: /black|schwarz/,
  orange: /orange/,
}

/** What a flag's name says of how it looks. */
export const flagLook = (name: string): { colours: Colour[]; pattern: 'plain' | 'striped' | 'chequered' | 'disc' | 'halved' } => {
  const said = name.toLowerCase()
  const found = (Object.keys(called) as Colour[])
    .filter((colour) => called[colour].test(said))
    .sort((a, b) => said.search(called[a]) - said.search(called[b]))
  if (/chequer|checker|kariert|zielflagge/.test(said)) return { colours: ['black', 'white'], pattern: 'chequered' }
  if (/strip|streif/.test(said)) return { colours: found.length > 1 ? found : ['yellow', 'red'], pattern: 'striped' }
  if (/disc|spot|ball|scheibe|punkt/.test(said)) return { colours: found.length > 1 ? found : ['black', 'orange'], pattern: 'disc' }
  return found.length > 1 ? { colours: found, pattern: 'halved' } : { colours: found, pattern: 'plain' }
}

/** A mark of each plain colour, so that flags differ without colour too. */
const figure: Record<Colour, string> = {
  red: 'M6 6h28v16h-28z',
  yellow: 'M6 18q5 -8 9 0t9 0t9 0',
  blue: 'M4 24L36 4',
  green: 'M20 6v16M10 14h20',
  white: '',
  black: 'M8 14h24',
  orange: 'M12 14a8 8 0 1 0 16 0a8 8 0 1 0 -16 0',
}

/** A flag as it is shown beside the track, with a figure besides its colour; its word stands beside it. Without a known colour: a bare cloth. */
export const FlagSign = ({ name, height = 28 }: { name: string; height?: number }) => {
  const { colours: shown, pattern } = flagLook(name)
  const [first, second = first] = shown.map((colour) => flagColours[colour])
  const cloth = first ?? 'var(--sheet)'
  return (
    <svg width={(height * 40) / 28} height={height} viewBox="0 0 40 28" aria-hidden style={{ flex: 'none', verticalAlign: 'middle' }}>
      <rect x="1" y="1" width="38" height="26" fill={cloth} stroke="var(--ink)" strokeWidth="1.5" />
      {pattern === 'striped' && [1, 3, 5].map((k) => <rect key={k} x={1 + k * 6.33} y="1" width="6.33" height="26" fill={second} />)}
      {pattern === 'chequered' &&
        Array.from({ length: 24 }, (_, k) => ({ row: Math.floor(k / 6), column: k % 6 }))
          .filter(({ row, column }) => (row + column) % 2 === 1)
          .map(({ row, column }) => (
            <rect key={`${row} ${column}`} x={1 + column * 6.33} y={1 + row * 6.5} width="6.33" height="6.5" fill={second} />
          ))}
      {pattern === 'disc' && <circle cx="20" cy="14" r="7.5" fill={second} />}
      {pattern === 'halved' && <path d="M1 27L39 1V27z" fill={second} />}
      {pattern === 'plain' && shown[0] && (
        <path
          d={figure[shown[0]]}
          fill="none"
          stroke={shown[0] === 'black' || shown[0] === 'blue' ? flagColours.white : flagColours.black}
          strokeWidth="2"
        />
      )}
      <rect x="1" y="1" width="38" height="26" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
    </svg>
  )
}
