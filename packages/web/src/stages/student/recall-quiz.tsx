import { Box, Button, Stack, Typography } from '@mui/material'
import { api, type Portal, type Quiz, type QuizJudgement } from '@ochote/contract'
import { formatDistance, type QuizAnswer, type QuizQuestion } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { portalQuery, queryClient } from '../../data/api/queries.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { CornerPicture } from './corner-picture.tsx'
import { choiceInWords, questionInWords } from './quiz-words.ts'

type QuizProps = {
  token: string
  portal: Portal
  words: StudentWords
  /** True while questions are asked, alone on the page. */
  asked: boolean
  onAsked: (asked: boolean) => void
}

/** Rounds of questions on a phone; each answer is told at once. */
export const RecallQuiz = ({ token, portal, words, asked, onAsked }: QuizProps) => {
  const [quiz, setQuiz] = useState<Quiz | null>(null)
  const [at, setAt] = useState(0)
  const ask = useMutation({
    mutationFn: () => call(api.portalQuiz, { params: { token } }),
    onSuccess: (next) => {
      setQuiz(next)
      setAt(0)
    },
  })
  const { phone } = words
  const question = quiz?.questions[at]
  const { mutate } = ask
  useEffect(() => {
    if (asked) mutate()
  }, [asked, mutate])
  return (
    <Stack component="section" aria-label={phone.quiz} spacing={3}>
      <Stack direction="row" sx={{ alignItems: 'baseline', justifyContent: 'space-between' }}>
        <Typography variant="head">{phone.quiz}</Typography>
        {quiz && question && <Typography>{phone.ofAll(at + 1, quiz.questions.length)}</Typography>}
      </Stack>
      <ProblemNote error={ask.error} language={words.code} />
      {quiz && question ? (
        <Question
          key={`${quiz.seed} ${question.id}`}
          token={token}
          seed={quiz.seed}
          question={question}
          portal={portal}
          words={words}
          onNext={() => {
            if (at + 1 < quiz.questions.length) setAt(at + 1)
            else {
              setQuiz(null)
              onAsked(false)
              void queryClient.invalidateQueries({ queryKey: portalQuery(token).queryKey })
            }
          }}
        />
      ) : (
        <>
          <Typography>{portal.answered.asked > 0 ? phone.done(portal.answered.right, portal.answered.asked) : phone.quizNote}</Typography>
          <Button variant="outlined" disabled={ask.isPending} onClick={() => (asked ? ask.mutate() : onAsked(true))}>
            {portal.answered.asked > 0 ? phone.more : phone.begin}
          </Button>
        </>
      )}
    </Stack>
  )
}

const Question = ({
  token,
  seed,
  question,
  portal,
  words,
  onNext,
}: {
  token: string
  seed: number
  question: QuizQuestion
  portal: Portal
  words: StudentWords
  onNext: () => void
}) => {
  const { phone } = words
  const heading = useRef<HTMLHeadingElement>(null)
  useEffect(() => {
    heading.current?.scrollIntoView({ block: 'start' })
  }, [])
  const [order, setOrder] = useState<readonly number[]>([])
  const [place, setPlace] = useState<{ x_m: number; y_m: number } | null>(null)
  const [chosen, setChosen] = useState<number | null>(null)
  const judge = useMutation({
    mutationFn: (answer: QuizAnswer) =>
      call(api.portalAnswer, { params: { token }, body: { id: uuid(), seed, questionId: question.id, answer: answer as never } }),
  })
  const judgement = judge.data
  const answer = (given: QuizAnswer): void => {
    if (!judgement && !judge.isPending) judge.mutate(given)
  }
  const full = order.length === question.choices.length
  return (
    <Stack spacing={3}>
      <Typography component="h3" ref={heading} sx={{ scrollMarginTop: 12, fontSize: 'size.head', fontWeight: 640, lineHeight: 1.2 }}>
        {questionInWords(question, words, portal.corners)}
      </Typography>
      {question.topic === 'cone-meaning' && (
        <Box>
          <RuleGlyphs rule={question.rule} size={60} />
        </Box>
      )}
      {question.form === 'place' && question.picture ? (
        <>
          <Typography>{phone.placeNote}</Typography>
          <CornerPicture
            picture={question.picture}
            placed={place}
            right={judgement?.place ?? null}
            label={questionInWords(question, words, portal.corners)}
            onPlace={judgement ? null : setPlace}
          />
          {!judgement && (
            <Button variant="contained" disabled={!place} onClick={() => place && answer({ form: 'place', ...place })}>
              {phone.sure}
            </Button>
          )}
        </>
      ) : (
        <>
          {question.form === 'order' && <Typography>{phone.orderNote}</Typography>}
          <Stack spacing={2}>
            {question.choices.map((choice, i) => (
              <ChoiceButton
                key={choiceInWords(choice, words, portal.corners)}
                text={choiceInWords(choice, words, portal.corners)}
                glyph={choice.kind === 'cone' ? <RuleGlyphs rule={choice.rule} size={34} /> : null}
                rank={order.includes(i) ? order.indexOf(i) + 1 : null}
                right={judgement !== undefined && question.form === 'choose' && judgement.choice === i}
                picked={chosen === i}
                disabled={judgement !== undefined}
                onChoose={() => {
                  if (question.form === 'choose') {
                    setChosen(i)
                    answer({ form: 'choose', choice: i })
                  } else setOrder(order.includes(i) ? order.filter((o) => o !== i) : [...order, i])
                }}
              />
            ))}
          </Stack>
          {question.form === 'order' && !judgement && (
            <Button variant="contained" disabled={!full} onClick={() => answer({ form: 'order', order: [...order] })}>
              {phone.sure}
            </Button>
          )}
        </>
      )}
      <ProblemNote error={judge.error} language={words.code} />
      {(judgement || judge.error) && (
        <>
          {judgement && <Told told={judgement} question={question} portal={portal} words={words} />}
          <Button variant="contained" onClick={onNext}>
            {phone.next}
          </Button>
        </>
      )}
    </Stack>
  )
}

const ChoiceButton = ({
  text,
  glyph,
  rank,
  right,
  picked,
  disabled,
  onChoose,
}: {
  text: string
  glyph: React.ReactNode
  rank: number | null
  right: boolean
  picked: boolean
  disabled: boolean
  onChoose: () => void
}) => (
  <Button
    variant="outlined"
    onClick={onChoose}
    disabled={disabled && !right && !picked}
    aria-pressed={picked || rank !== null}
    sx={{
      justifyContent: 'flex-start',
      textAlign: 'left',

      lineHeight: 1.2,
      gap: 3,
      pointerEvents: disabled ? 'none' : 'auto',
    }}
  >
    {rank !== null && (
      <Box component="span" className="figures" sx={{ fontWeight: 720, width: 20 }}>
        {rank}
      </Box>
    )}
    {glyph}
    <span>{text}</span>
  </Button>
)

const Told = ({ told, question, portal, words }: { told: QuizJudgement; question: QuizQuestion; portal: Portal; words: StudentWords }) => {
  const { phone } = words
  const rightOrder = told.order?.map((i) => choiceInWords(question.choices[i], words, portal.corners)).join(', ')
  return (
    <Box role="status" sx={{ borderLeft: 'far', borderColor: told.right ? 'text.primary' : 'warning.main', pl: 4, fontSize: 'size.lead' }}>
      <Box sx={{ fontWeight: 680 }}>{told.right ? phone.right : phone.wrong}</Box>
      {!told.right && told.choice !== null && (
        <Box>{`${phone.rightIs} ${choiceInWords(question.choices[told.choice], words, portal.corners)}`}</Box>
      )}
      {!told.right && rightOrder && <Box>{`${phone.rightIs} ${rightOrder}`}</Box>}
      {told.off_m !== null && !told.right && (
        <Box>{phone.offBy(formatDistance(Math.abs(told.off_m), portal.student.units), told.off_m < 0)}</Box>
      )}
    </Box>
  )
}
