import { Box, Stack, Typography } from '@mui/material'
import type { ImportedCircuit } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { circuitsQuery, vehiclesQuery } from '../data/api/queries.ts'
import { CircuitImport } from '../stages/circuit/circuit-import.tsx'
import { importedInWords } from '../stages/circuit/imported-words.ts'
import { VehicleImport } from '../stages/circuit/vehicle-import.tsx'

/** First steps of an empty school, in order. */
export const FirstSteps = () => {
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const [imported, setImported] = useState<ImportedCircuit | null>(null)
  const steps = [
    {
      done: (circuits.data?.length ?? 0) > 0,
      title: 'Import a circuit',
      body: <CircuitImport onImported={setImported} />,
      came: imported && importedInWords(imported),
      why: 'A survey as CSV, GeoJSON, GPX or KML; without one, a log of a few laps is averaged, or the road is drawn over a picture. Corners are found and numbered from it.',
    },
    {
      done: (vehicles.data?.length ?? 0) > 0,
      title: 'Import vehicles',
      body: <VehicleImport />,
      came: null,
      why: 'A JSON file with one vehicle or several. Every later screen is computed from it.',
    },
  ]
  return (
    <Box sx={{ maxWidth: 720 }}>
      <Typography variant="title" gutterBottom>
        First steps
      </Typography>
      <Typography sx={{ mb: 5 }}>Nothing here yet. Import a circuit and your vehicles, then add students and a day.</Typography>
      <Stack spacing={5} component="ol" sx={{ pl: 0, listStyle: 'none' }}>
        {steps.map((step, i) => (
          <Box component="li" key={step.title} sx={{ borderTop: 'chosen', borderColor: step.done ? 'divider' : 'text.primary', pt: 3 }}>
            <Typography variant="head">{`${i + 1} ${step.title}${step.done ? ' · done' : ''}`}</Typography>
            <Typography variant="text" color="text.secondary" sx={{ mb: 2 }}>
              {step.why}
            </Typography>
            {step.done ? step.came && <Typography role="status">{step.came}</Typography> : step.body}
          </Box>
        ))}
      </Stack>
    </Box>
  )
}
