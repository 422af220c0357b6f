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
      <Typography variant="h1" gutterBottom>
        First steps
      </Typography>
      <Typography sx={{ mb: 3 }}>Nothing here yet. Import a circuit and your vehicles, then add students and a day.</Typography>
      <Stack spacing={3} component="ol" sx={{ pl: 0, listStyle: 'none' }}>
        {steps.map((step, i) => (
          <Box
            component="li"
            key={step.title}
            sx={{ borderTop: '3px solid', borderColor: step.done ? 'divider' : 'primary.main', pt: 1.5 }}
          >
            <Typography variant="h2">{`${i + 1} ${step.title}${step.done ? ' · done' : ''}`}</Typography>
            <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
              {step.why}
            </Typography>
            {step.done ? step.came && <Typography role="status">{step.came}</Typography> : step.body}
          </Box>
        ))}
      </Stack>
    </Box>
  )
}
