import { Button, Menu, MenuItem } from '@mui/material'
import { type StoredCircuit, surveyFromWire } from '@ochote/contract'
import { type Plan, writeCircuitCsv, writeCircuitGpx, writeCircuitKml, writeLineCsv, writeVenueGeoJson } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { download } from '../../shared/download.ts'

/** Saves the circuit, the line or the table of corners in open formats. */
export const ExportMenu = ({ plan, stored, cornersCsv }: { plan: Plan; stored: StoredCircuit; cornersCsv: () => string }) => {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const placed = stored.survey.origin !== undefined
  const survey = () => ({ ...surveyFromWire(stored.survey), name: stored.name })
  const slug = stored.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')
  const entries: { label: string; file: string; type: string; needsPlace: boolean; text: () => string }[] = [
    {
      label: say`Circuit with its ground, GeoJSON`,
      file: `${slug}.geojson`,
      type: 'application/geo+json',
      needsPlace: true,
      text: () => writeVenueGeoJson(survey(), plan.circuit, stored.notes.ground),
    },
    { label: say`Circuit, CSV`, file: `${slug}.csv`, type: 'text/csv', needsPlace: false, text: () => writeCircuitCsv(survey()) },
    { label: say`Circuit, GPX`, file: `${slug}.gpx`, type: 'application/gpx+xml', needsPlace: true, text: () => writeCircuitGpx(survey()) },
    {
      label: say`Circuit, KML`,
      file: `${slug}.kml`,
      type: 'application/vnd.google-earth.kml+xml',
      needsPlace: true,
      text: () => writeCircuitKml(survey()),
    },
    { label: say`Line with speeds, CSV`, file: `${slug}-line.csv`, type: 'text/csv', needsPlace: false, text: () => writeLineCsv(plan) },
    { label: say`Table of corners, CSV`, file: `${slug}-corners.csv`, type: 'text/csv', needsPlace: false, text: cornersCsv },
  ]
  return (
    <>
      <Button variant="outlined" size="small" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        {say`Save as`}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {entries.map((e) => (
          <MenuItem
            key={e.label}
            disabled={e.needsPlace && !placed}
            onClick={() => {
              download(e.file, e.text(), e.type)
              setAnchor(null)
            }}
          >
            {e.label}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
