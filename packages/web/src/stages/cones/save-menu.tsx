import { Button, Menu, MenuItem } from '@mui/material'
import { api } from '@ochote/contract'
import { type ConeSet, writeLayingCsv, writeLayingGeoJson, writeLayingGpx } from '@ochote/core'
import { useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { say } from '../../language/say.ts'
import { download } from '../../shared/download.ts'

type Props = { dayId: string | undefined; name: string; set: ConeSet; onError: (error: unknown) => void }

/** Saves the laying sheet in open formats, and the whole day for the command line. */
export const SaveMenu = ({ dayId, name, set, onError }: Props) => {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const save = async (write: () => void | Promise<void>): Promise<void> => {
    setAnchor(null)
    try {
      await write()
      onError(null)
    } catch (raised) {
      onError(raised)
    }
  }
  const saveDay = async (id: string): Promise<void> =>
    download('day.json', JSON.stringify(await call(api.dayFile, { params: { dayId: id } })), 'application/json')
  return (
    <>
      <Button variant="outlined" size="small" onClick={(e) => setAnchor(e.currentTarget)}>
        {say`Save as …`}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem
          onClick={() => save(() => download('laying-sheet.csv', writeLayingCsv(set.sheet), 'text/csv'))}
        >{say`CSV table`}</MenuItem>
        <MenuItem onClick={() => save(() => download('laying-sheet.gpx', writeLayingGpx(name, set.sheet), 'application/gpx+xml'))}>
          {say`GPX waypoints`}
        </MenuItem>
        <MenuItem onClick={() => save(() => download('laying-sheet.geojson', writeLayingGeoJson(set.sheet), 'application/geo+json'))}>
          {say`GeoJSON points`}
        </MenuItem>
        {dayId && <MenuItem onClick={() => save(() => saveDay(dayId))}>{say`Day file for the command line`}</MenuItem>}
      </Menu>
    </>
  )
}
