import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api, type Question } from '@ochote/contract'
import { cornerOf, type Plan } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { queryClient, questionsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'

/** Questions that were asked at a corner (null: about none), with their answers, and a way to keep a new one. */
export const AskedHere = ({ plan, cornerId }: { plan: Plan; cornerId: string | null }) => {
  const { settings } = useDay()
  const circuitId = settings?.circuitId ?? ''
  const key = questionsQuery(circuitId).queryKey
  const questions = useQuery({ ...questionsQuery(circuitId), enabled: circuitId !== '' })
  const refresh = (): Promise<void> => queryClient.invalidateQueries({ queryKey: key })
  const put = useMutation({
    mutationFn: (question: Question) => call(api.putQuestion, { params: { questionId: question.id }, body: question }),
    onSettled: refresh,
  })
  const remove = useMutation({
    mutationFn: (questionId: string) => call(api.removeQuestion, { params: { questionId } }),
    onSuccess: refresh,
  })
  const [text, setText] = useState('')
  const [answer, setAnswer] = useState('')
  const corner = cornerOf(plan.corners, cornerId)
  const ofCorner = (questions.data ?? []).filter((q) => q.cornerId === cornerId)
  return (
    <Box component="section" aria-label={say`Questions asked`}>
      <Typography variant="head" sx={{ mb: 1 }}>
        {corner ? say`Asked at ${cornerLabel(corner)}` : say`General questions`}
      </Typography>
      {ofCorner.map((q) => (
        <Stack key={q.id} direction="row" spacing={2} sx={{ alignItems: 'flex-start', py: 1 }}>
          <Box sx={{ flex: 1 }}>
            <Box sx={{ fontWeight: 620 }}>{q.text}</Box>
            <TextField
              key={q.answer}
              fullWidth
              defaultValue={q.answer}
              placeholder={say`The answer, for the next group`}
              slotProps={{ htmlInput: { 'aria-label': say`Answer to ${q.text}`, maxLength: 600 } }}
              onBlur={(e) => e.target.value !== q.answer && put.mutate({ ...q, answer: e.target.value })}
            />
          </Box>
          <Button size="small" variant="text" onClick={() => remove.mutate(q.id)}>
            {say`Remove`}
          </Button>
        </Stack>
      ))}
      <Stack
        component="form"
        direction="row"
        spacing={2}
        sx={{ alignItems: 'flex-end', mt: 1 }}
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim().length < 3) return
          put.mutate({
            id: uuid(),
            circuitId,
            cornerId,
            text: text.trim(),
            answer: answer.trim(),
            at: new Date().toISOString(),
            version: 0,
          })
          setText('')
          setAnswer('')
        }}
      >
        <TextField
          label={say`New question`}
          value={text}
          onChange={(e) => setText(e.target.value)}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        <TextField
          label={say`Answer`}
          value={answer}
          onChange={(e) => setAnswer(e.target.value)}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 600 } }}
        />
        <Button type="submit" variant="outlined" disabled={text.trim().length < 3}>
          {say`Save`}
        </Button>
      </Stack>
      <ProblemNote error={put.error ?? remove.error} />
    </Box>
  )
}
