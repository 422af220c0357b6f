import { Box, Typography } from '@mui/material'
import { type GroupTally, groupPicture, mistakes } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { circuitQuery, groupQuery } from '../../app/queries.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** So many lines are enough to see what a group gets wrong. */
const MOST = 8

/** What the students of a day get wrong together; where most do, cone, call or briefing are looked at first. */
export const GroupPicture = ({ dayId, circuitId }: { dayId: string; circuitId: string }) => {
  const group = useQuery(groupQuery(dayId))
  const circuit = useQuery(circuitQuery(circuitId))
  if (!group.data) return <ProblemNote error={group.error} />
  const { seen, drove } = group.data
  const nameOf = (id: string): string => circuit.data?.notes.cornerNames[id] ?? id
  return <GroupTable picture={groupPicture(seen, drove.length)} drove={drove.length} nameOf={nameOf} />
}

/** The picture itself: a bar for each mistake in a corner, as long as the share of students who make it. */
export const GroupTable = ({
  picture,
  drove,
  nameOf,
}: {
  picture: readonly GroupTally[]
  drove: number
  nameOf: (cornerId: string) => string
}) => {
  const suspects = picture.filter((t) => t.suspect !== null)
  return (
    <Box component="section" aria-label="The group">
      <Typography variant="h2">The group</Typography>
      <Typography color="text.secondary">
        {`${drove} ${drove === 1 ? 'student' : 'students'} drove today. ${suspects.length > 0 ? 'Most get these wrong: look at cone, call and briefing first, not at the students.' : 'Nothing that most of them get wrong.'}`}
      </Typography>
      {suspects.map((t) => (
        <Box key={`${t.cornerId}${t.code}`} sx={{ borderLeft: '6px solid', borderColor: 'warning.main', pl: 1.5, my: 1 }}>
          <Typography
            sx={{ fontWeight: 640 }}
          >{`${nameOf(t.cornerId)}: ${mistakes[t.code].name.toLowerCase()}, ${t.students} of ${t.of}`}</Typography>
          <Typography>{t.suspect}</Typography>
        </Box>
      ))}
      <Box component="table" aria-label="What the group gets wrong" sx={{ borderCollapse: 'collapse', mt: 1, '& td': { py: 0.3, pr: 2 } }}>
        <tbody>
          {picture.slice(0, MOST).map((t) => (
            <tr key={`${t.cornerId}${t.code}`}>
              <td>{nameOf(t.cornerId)}</td>
              <td>{mistakes[t.code].name}</td>
              <td className="figures">{`${t.students} of ${t.of}`}</td>
              <td style={{ width: 220 }}>
                <Box
                  sx={{
                    height: 10,
                    width: `${(100 * t.students) / Math.max(1, t.of)}%`,
                    backgroundColor: t.suspect ? 'warning.main' : 'text.secondary',
                  }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  )
}
