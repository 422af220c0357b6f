import { Box } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { accountsQuery, studentsQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { At } from '../../look/theme-choice.tsx'
import { FlagSign } from '../../shared/flag-sign.tsx'
import { PrintHead } from '../../shared/print-head.tsx'
import { kindWords } from './slot-words.ts'

/** Sizes of the sheet: for a clipboard, and for the board that is read from some steps away. */
export type SheetSize = 'A4' | 'A3'

/** The day on one sheet for the wall: who drives when, with whom, in which car; flags and rules below. On paper only. */
export const DaySheet = ({ plan, size }: { plan: DayPlan; size: SheetSize }) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const nameOf = (id: string | undefined, list: readonly { id: string; name: string }[] | undefined): string =>
    list?.find((p) => p.id === id)?.name ?? ''
  return (
    <Box component="section" aria-label={say`Sheet of the day`} sx={{ display: 'none', '@media print': { display: 'block' } }}>
      <At distance="paper">
        <style>{`@page { size: ${size} landscape; margin: 12mm }`}</style>
        <PrintHead />
        <Box sx={{ fontSize: 'size.title', fontWeight: 640, fontStretch: '84%' }}>{plan.title}</Box>
        <Box sx={{ fontSize: 'size.lead', mb: 2 }}>
          {[dayjs(plan.date).format(say`dddd D MMMM YYYY`), plan.venue, plan.weather].filter(Boolean).join(' · ')}
        </Box>
        <Box
          component="table"
          sx={{
            width: 1,
            borderCollapse: 'collapse',
            fontSize: size === 'A3' ? 'size.head' : 'size.text',
            lineHeight: 1.2,
            '& th, & td': {
              textAlign: 'left',
              borderBottom: 'hair',
              borderColor: 'divider',
              py: '0.6mm',
              pr: 4,
              verticalAlign: 'baseline',
            },
          }}
        >
          <thead>
            <tr>
              {[say`Time`, say`What`, say`Student`, say`Instructor`, say`Car`].map((name) => (
                <th key={name}>{name}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {plan.slots.map((slot) =>
              slot.kind === 'run' ? (
                <tr key={slot.id}>
                  <td className="figures">{`${slot.start}–${slot.end}`}</td>
                  <td>{slot.title}</td>
                  <td style={{ fontWeight: 650 }}>{nameOf(slot.studentId, students.data)}</td>
                  <td>{nameOf(slot.instructorId, accounts.data)}</td>
                  <td className="figures">{plan.cars.find((c) => c.id === slot.carId)?.number ?? ''}</td>
                </tr>
              ) : (
                <tr key={slot.id} style={{ backgroundColor: 'var(--verge)', printColorAdjust: 'exact' }}>
                  <td className="figures">{`${slot.start}–${slot.end}`}</td>
                  <td colSpan={4} style={{ fontWeight: 650 }}>{`${kindWords[slot.kind]}: ${slot.title}`}</td>
                </tr>
              ),
            )}
          </tbody>
        </Box>
        <Box className="keep-together" sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 5, mt: 3 }}>
          <Box>
            {plan.flags.map((flag) => (
              <Box key={flag.name} sx={{ display: 'flex', gap: 2, alignItems: 'center', fontSize: 'size.note' }}>
                <FlagSign name={flag.name} height={12} />
                <span>{`${flag.name}: ${flag.meaning}`}</span>
              </Box>
            ))}
          </Box>
          <Box>
            {plan.rules.map((rule) => (
              <Box key={rule} sx={{ fontSize: 'size.note' }}>
                {rule}
              </Box>
            ))}
            <Box sx={{ fontSize: 'size.note' }}>{say`Instructors: ${plan.instructorIds
              .map((id) => nameOf(id, accounts.data))
              .filter(Boolean)
              .join(', ')}`}</Box>
            <Box>{say`The instructor in the car decides; the venue’s rules come before this plan.`}</Box>
          </Box>
        </Box>
      </At>
    </Box>
  )
}
