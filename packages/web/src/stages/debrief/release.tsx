import { Button, Stack, Typography } from '@mui/material'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'

type Props = {
  /** The event by which an instructor let the student read the findings, where there is one. */
  released: { id: string } | null
  onRelease: () => void
  onTakeBack: (eventId: string) => void
}

/** Whether a student may read what was found in a log that they sent in: laps and traces are theirs at once, findings once somebody has looked. */
export const Release = ({ released, onRelease, onTakeBack }: Props) => {
  const { schoolSettings } = useSchoolSettings()
  if (schoolSettings.sentInFindings === 'at-once') return null
  return (
    <Stack component="section" aria-label={say`What the student reads`} direction="row" spacing={3} sx={{ alignItems: 'center' }}>
      <Typography>
        {released
          ? say`The student reads these findings by their link.`
          : say`Sent in by the student, who sees laps and traces. Look at the reference and the findings, then let them be read.`}
      </Typography>
      {released ? (
        <Button variant="text" onClick={() => onTakeBack(released.id)}>
          {say`Take back`}
        </Button>
      ) : (
        <Button variant="contained" onClick={onRelease}>
          {say`Let the student read them`}
        </Button>
      )}
    </Stack>
  )
}
