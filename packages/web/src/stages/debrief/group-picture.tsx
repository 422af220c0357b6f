import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { Group } from '@ochote/contract'
import { type DayEvent, type GroupTally, groupPicture, groupProposal, type Helped, helpedBy } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { circuitQuery, groupQuery } from '../../data/api/queries.ts'
import { type NewDayEvent, useDayEvents } from '../../data/events/use-day-events.ts'
import { inside, say, sayWhole } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { mistakeName, shareInWords } from '../../shared/language/staff-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Number of lines that show what a group gets wrong. */
const MOST = 8

/** A change for everybody, and whether it has helped. */
export type Changed = Extract<DayEvent, { kind: 'teaching-changed' }> & { helped: Helped }

/** Changes of a day, each with its effect on the passes after it. */
export const changesOf = (
  events: readonly DayEvent[],
  passes: readonly Pick<Group['passes'][number], 'at' | 'cornerId' | 'codes'>[],
): Changed[] => {
  const passesInTime = passes.map((p) => ({ at_ms: Date.parse(p.at), cornerId: p.cornerId, codes: p.codes }))
  return events
    .filter((e) => e.kind === 'teaching-changed')
    .map((e) => ({ ...e, helped: helpedBy(passesInTime, { cornerId: e.cornerId, code: e.code, at_ms: Date.parse(e.at) }) }))
}

/** Mistakes that the students of a day share; where most make one, cone, call or briefing are checked first. */
export const GroupPicture = ({ dayId, circuitId }: { dayId: string; circuitId: string }) => {
  const group = useQuery(groupQuery(dayId))
  const circuit = useQuery(circuitQuery(circuitId))
  const { events, tell } = useDayEvents(dayId)
  const changes = useMemo(() => changesOf(events, group.data?.passes ?? []), [events, group.data])
  if (!group.data) return <ProblemNote error={group.error} />
  const { seen, drove, former, formerDrove } = group.data
  const all = drove.length + formerDrove
  const nameOf = (id: string): string => circuit.data?.notes.cornerNames[id] ?? id
  return <GroupTable picture={groupPicture(seen, all, former)} drove={all} nameOf={nameOf} changes={changes} onChange={tell} />
}

/** The picture itself: a bar for each mistake in a corner, as long as the share of students who make it. */
export const GroupTable = ({
  picture,
  drove,
  nameOf,
  changes = [],
  onChange,
}: {
  picture: readonly GroupTally[]
  drove: number
  nameOf: (cornerId: string) => string
  changes?: readonly Changed[]
  onChange?: (told: NewDayEvent) => void
}) => {
  const suspects = picture.filter((t) => t.suspect)
  return (
    <Box component="section" aria-label={say`The group`}>
      <Typography variant="head">{say`The group`}</Typography>
      <Typography color="text.secondary">
        {say`${drove} ${drove === 1 ? say`student` : say`students`} drove today. ${suspects.length > 0 ? say`Most get these wrong: check cone, call and briefing first.` : say`Nothing that most of them get wrong.`}`}
      </Typography>
      {suspects.map((t) => (
        <Box key={`${t.cornerId}${t.code}`} sx={{ borderLeft: 'note', borderColor: 'warning.main', pl: 3, my: 2 }}>
          <Typography
            sx={{ fontWeight: 640 }}
          >{say`${nameOf(t.cornerId)}: ${inside(mistakeName(t.code))}, ${t.students} of ${t.of}`}</Typography>
          <Typography>{sayWhole(groupProposal(t.code))}</Typography>
          {onChange && <NoteChange tally={t} onChange={onChange} />}
        </Box>
      ))}
      {changes.length > 0 && <Changes changes={changes} nameOf={nameOf} />}
      <Box
        component="table"
        aria-label={say`What the group gets wrong`}
        sx={{ borderCollapse: 'collapse', mt: 2, '& td': { py: 1, pr: 4 } }}
      >
        <tbody>
          {picture.slice(0, MOST).map((t) => (
            <tr key={`${t.cornerId}${t.code}`}>
              <td>{nameOf(t.cornerId)}</td>
              <td>{mistakeName(t.code)}</td>
              <td className="figures">{say`${t.students} of ${t.of}`}</td>
              <td style={{ width: 220 }}>
                <Box
                  sx={{
                    height: 10,
                    width: `${(100 * t.students) / Math.max(1, t.of)}%`,
                    backgroundColor: t.suspect ? 'text.primary' : 'text.secondary',
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

/** Keeps what was changed, so that its effect can be told. */
const NoteChange = ({ tally, onChange }: { tally: GroupTally; onChange: (told: NewDayEvent) => void }) => {
  const [what, setWhat] = useState('')
  return (
    <Stack
      component="form"
      direction="row"
      spacing={2}
      className="no-print"
      sx={{ mt: 1, alignItems: 'flex-end', maxWidth: 720 }}
      onSubmit={(event) => {
        event.preventDefault()
        if (what.trim() === '') return
        onChange({ kind: 'teaching-changed', cornerId: tally.cornerId, code: tally.code, what: what.trim() })
        setWhat('')
      }}
    >
      <TextField
        label={say`What was changed`}
        placeholder={say`Turn-in cone on by ${metres(4)}`}
        value={what}
        onChange={(e) => setWhat(e.target.value)}
        sx={{ flex: 1 }}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Button type="submit" variant="outlined" disabled={what.trim() === ''}>
        {say`Note the change`}
      </Button>
    </Stack>
  )
}

const verdictWords: Record<Helped['verdict'], string> = {
  helped: say`it helped`,
  worse: say`it got worse`,
  open: say`too few times through to say whether it helped`,
}

/** Changes and their effects: the share of passes with the mistake before and after. */
const Changes = ({ changes, nameOf }: { changes: readonly Changed[]; nameOf: (cornerId: string) => string }) => (
  <Box component="section" aria-label={say`What was changed`} sx={{ my: 2 }}>
    <Typography component="h3" sx={{ fontWeight: 680 }}>
      {say`What was changed`}
    </Typography>
    {changes.map((c) => (
      <Typography key={c.id} className="figures">
        {say`${c.at.slice(11, 16)} ${nameOf(c.cornerId)}, ${inside(mistakeName(c.code))}: ${c.what}. Seen before it ${shareInWords(c.helped.before)} times through, since then ${shareInWords(c.helped.after)}: `}
        <Box component="span" sx={{ fontWeight: 680 }}>
          {verdictWords[c.helped.verdict]}
        </Box>
        .
      </Typography>
    ))}
  </Box>
)
