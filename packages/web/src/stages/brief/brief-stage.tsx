import { Alert, Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { type Level, levels } from '@ochote/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { UndoRedo } from '../../shared/undo-redo.tsx'
import { inOrder, strayPages } from './brief-pages.ts'
import { emptyParts, PageEditor } from './page-editor.tsx'
import { PageList } from './page-list.tsx'
import { SmallPage } from './small-page.tsx'
import { useBriefing } from './use-briefing.ts'

/** The briefing before it is given: its pages in order, made from the day's plan, with what the school adds. */
export const BriefStage = () => {
  const { day } = useDay()
  const [level, setLevel] = useState<Level | null>(null)
  const { state, error } = useBriefing({ level })
  const { change, undo, redo, kept } = useDayPart('briefing')
  const [chosen, setChosen] = useState<string | null>(null)
  if (!state)
    return (
      <Stack spacing={3}>
        <StageHead stage="Brief" />
        <Reading what={say`Computing the briefing …`} error={error} />
      </Stack>
    )
  const { plan, all, pages, briefing } = state
  const listed = inOrder(all, briefing.order)
  const stray = strayPages(all, briefing)
  const missing = emptyParts(day?.plan, plan)
  const id = chosen ?? listed[0]?.id ?? ''
  const shown = all.find((p) => p.id === id)
  const move = (from: number, by: -1 | 1): void => {
    const ids = listed.map((p) => p.id)
    const [moved] = ids.splice(from, 1)
    ids.splice(from + by, 0, moved)
    change({ order: ids })
  }
  const add = (): void => {
    const page = { id: `own-${uuid()}`, title: say`Own page`, text: '' }
    change({ own: [...briefing.own, page] })
    setChosen(page.id)
  }
  const withLevel = level ? `&level=${encodeURIComponent(level)}` : ''
  return (
    <Stack spacing={3}>
      <StageHead stage="Brief">
        <UndoRedo undo={undo} redo={redo} />
        <Button variant="outlined" size="small" component={Link} to="/brief/card">
          {say`Pocket card`}
        </Button>
        <Button variant="outlined" size="small" component={Link} to="/brief/handout">
          {say`Hand-out`}
        </Button>
        <Button variant="outlined" size="small" component={Link} to={`/brief/presenter?page=1${withLevel}`}>
          {say`Presenter’s window`}
        </Button>
        <Button variant="contained" size="small" component={Link} to={`/brief/present?page=1${withLevel}`}>
          {say`Present`}
        </Button>
      </StageHead>
      <ProblemNote error={error} />
      <StrayNotes stray={stray} briefing={briefing} onForget={change} />
      <Box sx={columns('minmax(0, 1.15fr) minmax(0, 1fr)')}>
        <Box>
          <Stack direction="row" spacing={4} sx={{ alignItems: 'flex-end', mb: 2 }}>
            <TextField
              select
              label={say`Pages for`}
              value={level ?? 'all'}
              onChange={(e) => setLevel(e.target.value === 'all' ? null : (e.target.value as Level))}
              sx={{ width: 150 }}
            >
              <MenuItem value="all">{say`everyone`}</MenuItem>
              {levels.map((l) => (
                <MenuItem key={l} value={l}>
                  {levelName(l)}
                </MenuItem>
              ))}
            </TextField>
            <Typography variant="text" color="text.secondary" role="status" sx={{ flex: 1 }}>
              {say`${pages.length} pages, made from the plan and updated with it`}
            </Typography>
            <Button size="small" variant="outlined" disabled={!kept} onClick={add}>
              {say`Add a page`}
            </Button>
          </Stack>
          <PageList listed={listed} pages={pages} id={id} kept={kept} onChoose={setChosen} onMove={move} />
          {missing.length > 0 && (
            <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'center', mt: 2 }}>
              <Typography variant="text" color="text.secondary">
                {say`Nothing entered yet:`}
              </Typography>
              {missing.map((part) => (
                <Button key={part.id} size="small" variant="text" onClick={() => setChosen(part.id)}>
                  {part.title}
                </Button>
              ))}
            </Stack>
          )}
        </Box>
        <Stack spacing={3}>
          {shown && <SmallPage page={shown} state={state} />}
          <PageEditor id={id} page={shown} plan={plan} briefing={briefing} change={change} />
        </Stack>
      </Box>
    </Stack>
  )
}

type Briefing = DayPlan['briefing']
type StrayProps = {
  stray: readonly string[]
  briefing: Briefing
  onForget: (left: Pick<Briefing, 'order' | 'hidden' | 'levels' | 'notes'>) => void
}

/** Notes that are left of pages which are not there any more. */
const StrayNotes = ({ stray, briefing, onForget }: StrayProps) => {
  if (stray.length === 0) return null
  const keep = (other: string): boolean => !stray.includes(other)
  const clean = <T,>(record: Record<string, T>): Record<string, T> => Object.fromEntries(Object.entries(record).filter(([k]) => keep(k)))
  return (
    <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
      {say`Notes and order are saved for pages that no longer exist (${stray.join(', ')}); a corner may have been removed or joined. `}
      <Button
        size="small"
        variant="text"
        onClick={() =>
          onForget({
            order: briefing.order.filter(keep),
            hidden: briefing.hidden.filter(keep),
            levels: clean(briefing.levels),
            notes: clean(briefing.notes),
          })
        }
      >
        {say`Forget them`}
      </Button>
    </Alert>
  )
}
