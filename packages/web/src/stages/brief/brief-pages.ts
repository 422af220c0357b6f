import type { DayPlan } from '@ochote/contract'
import { type ConeScheme, type Corner, formatDistance, formatSpeed, type Mark, type Plan } from '@ochote/core'
import { cornerInWords, cornerLabel } from '../../shared/corner-card/corner-words.ts'

/** One page of the briefing: one message, made from the plan. */
export type BriefPage =
  | { kind: 'lines'; id: string; title: string; lines: readonly string[]; tone?: 'safety' }
  | { kind: 'flags'; id: string; title: string; flags: DayPlan['flags'] }
  | { kind: 'cones'; id: string; title: string; scheme: ConeScheme }
  | { kind: 'circuit'; id: string; title: string; lines: readonly string[] }
  | { kind: 'corner'; id: string; title: string; corner: Corner; marks: readonly Mark[]; line: string }

const whenItGoesWrong = [
  'Missed the braking point: stay off the inside, straighten, use the run-off.',
  'Locked a wheel: ease the brake, then press again.',
  'Going off: a straight line off is better than a spin across. Wheel straight, then brake.',
  'The instructor’s hand on the wheel means: leave your hands, let me help.',
]

/** All pages in the order in which they are told: safety and the venue's rules first. */
export const briefPages = (plan: Plan, day: DayPlan | undefined, scheme: ConeScheme): BriefPage[] => {
  const { circuit, corners, marks, profile, settings } = plan
  const heights = Array.from(circuit.z_m)
  const pages: BriefPage[] = [
    {
      kind: 'lines',
      id: 'safety',
      title: 'Safety first',
      tone: 'safety',
      lines: [
        'Track driving can kill. Nobody has to go faster than they want.',
        'The instructor in the car decides. Marshals and the venue’s rules stand above any plan.',
        'Marks and cones are estimates: we drive them slowly first.',
      ],
    },
  ]
  if (day && day.rules.length > 0)
    pages.push({ kind: 'lines', id: 'rules', title: `Rules at ${day.venue || circuit.name}`, tone: 'safety', lines: day.rules })
  pages.push({ kind: 'lines', id: 'wrong', title: 'When it goes wrong', tone: 'safety', lines: whenItGoesWrong })
  if (day && day.flags.length > 0) pages.push({ kind: 'flags', id: 'flags', title: 'Flags used here', flags: day.flags })
  pages.push({ kind: 'cones', id: 'cones', title: 'What the cones mean', scheme })
  pages.push({
    kind: 'circuit',
    id: 'circuit',
    title: circuit.name,
    lines: [
      `${formatDistance(circuit.length_m, 'metric')}, ${corners.length} corners, ${Math.round(Math.max(...heights) - Math.min(...heights))} m of height`,
      `Today ${settings.surface}, at ${Math.round(settings.pace * 100)} % of the grip; up to ${formatSpeed(Math.max(...profile.speed_mps), 'metric')}`,
    ],
  })
  for (const corner of corners)
    pages.push({
      kind: 'corner',
      id: corner.id,
      title: cornerLabel(corner),
      corner,
      marks: marks.filter((m) => m.cornerId === corner.id && scheme.rules[m.kind] !== undefined),
      line: cornerInWords(corner),
    })
  return pages
}
