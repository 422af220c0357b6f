import { Box, Button, Stack, Typography } from '@mui/material'
import { type AccountWord, accountWords, cornerOf, type Plan } from '@ochote/core'
import { useState } from 'react'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { inside, say } from '../../language/say.ts'

const wordNames: Record<AccountWord, string> = {
  calm: say`Calm`,
  busy: say`Busy`,
  rushed: say`Rushed`,
  unsure: say`Unsure`,
  flowing: say`Flowing`,
  tired: say`Tired`,
}

type Events = Pick<ReturnType<typeof useRunEvents>, 'account' | 'tell'>

/** The student's own account before anything is shown: best corner, worst corner, one word. Three taps, or passed over. */
export const OwnAccount = ({ plan, events, firstName, onDone }: { plan: Plan; events: Events; firstName: string; onDone: () => void }) => {
  const [best, setBest] = useState<string | null>(null)
  const [worst, setWorst] = useState<string | null>(null)
  const corners = (question: string, chosen: string | null, choose: (id: string) => void) => (
    <Row question={question}>
      {plan.corners.map((corner) => (
        <Choice key={corner.id} on={corner.id === chosen} onChoose={() => choose(corner.id)}>
          {corner.name}
        </Choice>
      ))}
    </Row>
  )
  return (
    <Box component="section" aria-label={say`Own account`} sx={{ borderLeft: 'note', borderColor: 'text.primary', pl: 4, py: 1 }}>
      <Stack direction="row" sx={{ alignItems: 'baseline', mb: 2 }}>
        <Typography variant="head">{say`First, in ${firstName}’s words`}</Typography>
        <Box sx={{ flex: 1 }} />
        <Button size="small" onClick={onDone}>
          {say`Skip`}
        </Button>
      </Stack>
      {corners(say`Which corner felt best?`, best, setBest)}
      {corners(say`Which felt worst?`, worst, setWorst)}
      <Row question={say`One word for the run?`}>
        {accountWords.map((word) => (
          <Choice
            key={word}
            on={false}
            onChoose={() => {
              void events.tell({ kind: 'account', best, worst, word })
              onDone()
            }}
          >
            {wordNames[word]}
          </Choice>
        ))}
      </Row>
    </Box>
  )
}

/** The student's own account, in one line. */
export const AccountLine = ({ plan, account }: { plan: Plan; account: NonNullable<Events['account']> }) => {
  const nameOf = (id: string | null): string | null => cornerOf(plan.corners, id)?.name ?? null
  const [best, worst] = [nameOf(account.best), nameOf(account.worst)]
  return (
    <Typography>
      <Box component="span" sx={{ color: 'text.secondary', mr: 2 }}>
        {say`Own account`}
      </Box>
      {[best && say`best: ${best}`, worst && say`worst: ${worst}`, `“${inside(wordNames[account.word])}”`].filter(Boolean).join(' · ')}
    </Typography>
  )
}

const Row = ({ question, children }: { question: string; children: React.ReactNode }) => (
  <Box role="group" aria-label={question} sx={{ display: 'grid', gridTemplateColumns: '210px 1fr', alignItems: 'center', py: 1 }}>
    <Typography sx={{ fontWeight: 620 }}>{question}</Typography>
    <Stack direction="row" spacing={2} useFlexGap sx={{ flexWrap: 'wrap' }}>
      {children}
    </Stack>
  </Box>
)

const Choice = ({ on, onChoose, children }: { on: boolean; onChoose: () => void; children: React.ReactNode }) => (
  <Button variant="outlined" aria-pressed={on} onClick={onChoose}>
    {children}
  </Button>
)
