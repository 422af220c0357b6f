import { Box, Checkbox, FormControlLabel, Stack, TextField, Typography } from '@mui/material'
import type { SchoolSettings } from '@ochote/contract'
import { coneColourNames } from '@ochote/core'
import { say } from '../../language/say.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'

type Props = {
  schoolSettings: Pick<SchoolSettings, 'stock' | 'reserved'>
  save: (change: Partial<Pick<SchoolSettings, 'stock' | 'reserved'>>) => void
}

/** Number of cones of each colour, and the colours reserved for the pits. */
export const ConeStock = ({ schoolSettings, save }: Props) => (
  <Box component="section" aria-label={say`Cones in the shed`}>
    <Typography variant="head" sx={{ mb: 1 }}>
      {say`Cones in the shed`}
    </Typography>
    <Typography variant="text" color="text.secondary" sx={{ mb: 2 }}>
      {say`Where a colour is short, the least worth is left out first. Leave blank if not counted.`}
    </Typography>
    {coneColourNames.map((colour) => (
      <Stack key={colour} direction="row" spacing={2} sx={{ alignItems: 'center', py: 1 }}>
        <ConeGlyph colour={colour} shape="tall" size={22} />
        <Box sx={{ width: 70 }}>{colour}</Box>
        <TextField
          key={`${colour} ${schoolSettings.stock[colour] ?? ''}`}
          type="number"
          defaultValue={schoolSettings.stock[colour] ?? ''}
          slotProps={{ htmlInput: { 'aria-label': say`Cones in ${colour}`, min: 0, max: 2000 } }}
          onBlur={(e) => {
            const { [colour]: _, ...rest } = schoolSettings.stock
            const count = Math.round(Number(e.target.value))
            if (e.target.value === '') save({ stock: rest })
            else if (count >= 0 && count <= 2000) save({ stock: { ...rest, [colour]: count } })
          }}
          sx={{ width: 80 }}
        />
        <FormControlLabel
          label={say`for the pits only`}
          control={
            <Checkbox
              checked={schoolSettings.reserved.includes(colour)}
              onChange={(e) =>
                save({
                  reserved: e.target.checked ? [...schoolSettings.reserved, colour] : schoolSettings.reserved.filter((c) => c !== colour),
                })
              }
            />
          }
        />
      </Stack>
    ))}
  </Box>
)
