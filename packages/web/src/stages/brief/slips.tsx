import { Box, Button, Stack, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { QRCodeSVG } from 'qrcode.react'
import { useNavigate } from 'react-router'
import { accountsQuery, linksQuery, studentsQuery } from '../../data/api/queries.ts'
import { useReachable } from '../../data/api/reachable.ts'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { PrintHead } from '../../shared/print-head.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'

const Slips = () => {
  const { day, error } = useDay()
  const navigate = useNavigate()
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const links = useQuery({ ...linksQuery(day?.id ?? ''), enabled: day !== undefined })
  const { origin } = useReachable()
  if (!day || !students.data || !links.data)
    return (
      <Box component="main">
        {error || students.error || links.error ? (
          <ProblemNote error={error ?? students.error ?? links.error} />
        ) : (
          <Reading what={say`Reading the day …`} />
        )}
      </Box>
    )
  const { plan } = day
  const here = students.data.filter((s) => plan.studentIds.includes(s.id))
  const nameOf = (id: string | undefined): string => accounts.data?.find((a) => a.id === id)?.name ?? ''
  return (
    <Box component="main" sx={{ width: '186mm', mx: 'auto', '@media print': { mx: 0 } }}>
      <style>{'@page { size: A4 portrait; margin: 12mm }'}</style>
      <Stack direction="row" spacing={2} className="no-print" sx={{ my: 4 }}>
        <Button variant="contained" onClick={() => window.print()}>
          {say`Print the slips`}
        </Button>
        <Button variant="outlined" onClick={() => navigate(-1)}>
          {say`Back`}
        </Button>
      </Stack>
      {origin === null && (
        <Typography className="no-print" role="note">
          {say`Phones cannot open this server, so that the slips carry no square to scan: start it with --host.`}
        </Typography>
      )}
      {here.length === 0 && <Typography>{say`Nobody is in this day yet.`}</Typography>}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr' }}>
        {here.map((student) => {
          const runs = plan.slots.filter((slot) => slot.studentId === student.id)
          const link = links.data.find((l) => l.studentId === student.id)
          const group = plan.groups.find((g) => g.studentIds.includes(student.id))
          return (
            <Box
              key={student.id}
              component="article"
              aria-label={student.name}
              sx={{
                height: '134mm',
                width: '93mm',
                p: '5mm',
                border: 'hair',
                borderColor: 'divider',
                overflow: 'hidden',
                breakInside: 'avoid',
              }}
            >
              <PrintHead />
              <Typography variant="title" component="h2">
                {student.name}
              </Typography>
              <Box>{[plan.title, dayjs(plan.date).format(say`D MMMM YYYY`), plan.venue, group?.name].filter(Boolean).join(' · ')}</Box>
              <Box component="ul" sx={{ listStyle: 'none', p: 0, my: 2 }}>
                {runs.map((slot) => (
                  <Box component="li" key={slot.id} sx={{ borderTop: 'hair', borderColor: 'divider', py: 1 }}>
                    <Box component="span" className="figures" sx={{ fontWeight: 680 }}>
                      {slot.start}
                    </Box>{' '}
                    {[
                      slot.title,
                      plan.cars.find((c) => c.id === slot.carId) ? say`car ${plan.cars.find((c) => c.id === slot.carId)?.number}` : '',
                      nameOf(slot.instructorId) ? say`with ${nameOf(slot.instructorId)}` : '',
                    ]
                      .filter(Boolean)
                      .join(', ')}
                  </Box>
                ))}
                {runs.length === 0 && <li>{say`Times will be told on the day.`}</li>}
              </Box>
              {link?.token && origin && (
                <Stack direction="row" spacing={3} sx={{ alignItems: 'center' }}>
                  <QRCodeSVG value={`${origin}/s/${link.token}`} size={104} marginSize={1} title={say`The page of ${student.name}`} />
                  <Box sx={{ fontSize: 'size.note' }}>
                    {say`Your page: briefing, quiz, your drives. It opens without signing in; keep it to yourself.`}
                  </Box>
                </Stack>
              )}
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}

/** A slip for each student of the day, four on a sheet: when, which car, with whom, and the square that opens their page. */
export const SlipsPrint = () => (
  <DayProvider>
    <Slips />
  </DayProvider>
)
