import { Box, Stack, Typography } from '@mui/material'
import { cornerName, cornerOf, type Plan } from '@ochote/core'
import type { ReactNode } from 'react'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { MarkGlyph } from '../marks/mark-glyph.tsx'
import { markNames } from '../marks/mark-words.ts'
import { cornerInWords, cornerLabel } from './corner-words.ts'

/** The corner card: the same in every stage, with that stage's content above (`lead`) and below its marks. */
export const CornerCard = ({
  plan,
  cornerId,
  lead,
  children,
}: {
  plan: Plan
  cornerId: string | null
  lead?: ReactNode
  children?: ReactNode
}) => {
  const corner = cornerOf(plan.corners, cornerId)
  if (!corner)
    return (
      <Box sx={{ p: 4, borderTop: 'chosen', borderColor: 'divider' }}>
        <Typography variant="text" color="text.secondary">
          {say`Choose a corner on the band or the ground view, or press ⇧→. Its card opens here.`}
        </Typography>
      </Box>
    )
  const marks = plan.marks.filter((m) => m.cornerId === corner.id)
  return (
    <Box component="section" aria-label={say`Corner card ${corner.name}`} sx={{ p: 4, borderTop: 'chosen', borderColor: 'text.primary' }}>
      <Typography variant="head" component="h2">
        {cornerLabel(corner)}
      </Typography>
      <Typography variant="text" color="text.secondary" sx={{ mb: 2 }}>
        {cornerInWords(corner)}
      </Typography>
      {lead}
      <Box
        component="table"
        sx={{
          borderCollapse: 'collapse',
          width: '100%',
          '& td, & th': { py: 1, pr: 2, textAlign: 'left', fontSize: 'size.text' },
          '& th': { color: 'text.secondary', fontWeight: 560 },
        }}
      >
        <thead>
          <tr>
            <th scope="col">{say`Mark`}</th>
            <th scope="col">{say`Station`}</th>
            <th scope="col">{say`Speed`}</th>
            <th scope="col">{say`Gear`}</th>
          </tr>
        </thead>
        <tbody>
          {marks.map((m) => (
            <tr key={`${m.kind} ${m.station_m}`}>
              <td>
                <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
                  <MarkGlyph kind={m.kind} />
                  <span>
                    {markNames[m.kind]}
                    {m.beforeApexOf && say`, before the apex of ${cornerName(plan.corners, m.beforeApexOf)}`}
                  </span>
                </Stack>
              </td>
              <Box component="td" sx={figures}>
                {metres(m.station_m)}
              </Box>
              <Box component="td" sx={figures}>
                {speedInWords(m.speed_mps)}
              </Box>
              <Box component="td" sx={figures}>
                {m.gear}
              </Box>
            </tr>
          ))}
        </tbody>
      </Box>
      {children}
    </Box>
  )
}
