import { Box, Button, Stack } from '@mui/material'

/** Some of a few values, each switched by itself; `none`: what it means that none is chosen. */
export const ChooseSome = <V extends string>({
  label,
  none,
  options,
  chosen,
  disabled = false,
  onChoose,
}: {
  label: string
  none: string
  options: readonly (readonly [V, string])[]
  chosen: readonly V[]
  disabled?: boolean
  onChoose: (chosen: V[]) => void
}) => (
  <Box role="group" aria-label={label}>
    <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{chosen.length === 0 ? `${label}: ${none}` : label}</Box>
    <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap' }}>
      {options.map(([value, words]) => {
        const on = chosen.includes(value)
        return (
          <Button
            key={value}
            size="small"
            variant="outlined"
            color="secondary"
            aria-pressed={on}
            disabled={disabled}
            onClick={() => onChoose(on ? chosen.filter((c) => c !== value) : [...chosen, value])}
          >
            {words}
          </Button>
        )
      })}
    </Stack>
  </Box>
)
