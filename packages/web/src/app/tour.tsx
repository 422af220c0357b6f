import { Box, Button, Typography } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { say } from '../language/say.ts'

/** Five steps through a day of one's own; each opens the page that it speaks of. */
const steps = [
  {
    to: '/circuit',
    title: say`The lap laid out flat`,
    text: say`The band is the lap from start to finish. Click a corner, or press ⇧ and the arrow keys: its card says what it is for and what it costs.`,
  },
  {
    to: '/cones',
    title: say`Cones from the plan`,
    text: say`Marks become cones by your scheme. Move one by hand, say for whom they are, and print the sheet for whoever lays them.`,
  },
  {
    to: '/day',
    title: say`Who drives when`,
    text: say`People, cars and times. What does not fit is told in its line. Other settings above are only looked at until you plan the day with them.`,
  },
  {
    to: '/run',
    title: say`In the car`,
    text: say`Start a run from the list. One touch logs a mistake; every touch is kept on the device first, with a network or without.`,
  },
  {
    to: '/debrief',
    title: say`Looking back`,
    text: say`A log becomes three things to say, and a sheet that a phone opens. The record remembers what stuck.`,
  },
] as const

const SEEN = 'ochote.tour'

/** True where nobody has taken or left the tour on this device. */
const isNew = (): boolean => localStorage.getItem(SEEN) === null

/** The tour, offered once on each device, left at any step. */
export const Tour = () => {
  const navigate = useNavigate()
  const [step, setStep] = useState<number | null>(null)
  const [offered, setOffered] = useState(isNew)
  const leave = (): void => {
    localStorage.setItem(SEEN, new Date().toISOString())
    setOffered(false)
    setStep(null)
  }
  const go = (k: number): void => {
    if (k >= steps.length) {
      leave()
      return
    }
    setStep(k)
    navigate(steps[k].to)
  }
  if (!offered) return null
  const now = step === null ? null : steps[step]
  return (
    <Box
      component="aside"
      aria-label={say`Tour`}
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        columnGap: 3,
        rowGap: 1,
        borderLeft: 'note',
        borderColor: 'primary.main',
        pl: 3,
        mb: 3,
        '@media print': { display: 'none' },
      }}
    >
      <Typography component="div" sx={{ flex: '1 1 320px' }}>
        <Box component="span" sx={{ fontWeight: 680, mr: 2 }}>
          {now ? say`${(step ?? 0) + 1} of ${steps.length}: ${now.title}` : say`New here?`}
        </Box>
        {now ? now.text : say`Five steps show how a day runs through these pages.`}
      </Typography>
      {step !== null && step > 0 && (
        <Button size="small" variant="outlined" onClick={() => go(step - 1)}>
          {say`Back`}
        </Button>
      )}
      <Button size="small" variant="contained" onClick={() => go(step === null ? 0 : step + 1)}>
        {now ? (step === steps.length - 1 ? say`Done` : say`Next`) : say`Show me`}
      </Button>
      <Button size="small" variant="text" onClick={leave}>
        {say`Leave the tour`}
      </Button>
    </Box>
  )
}
