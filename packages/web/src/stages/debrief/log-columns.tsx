import { Box } from '@mui/material'
import type { LogPreview } from '@ochote/contract'
import { channelNames as allChannels, type Channel, type LogMapping, unitsOf } from '@ochote/core'
import { PickField } from '../../shared/pick-field.tsx'

/** Name of each channel of a log. */
export const channelNames: Record<Channel, string> = {
  time: 'Time',
  lat: 'Latitude',
  lon: 'Longitude',
  ele: 'Height',
  speed: 'Speed',
  throttle: 'Throttle',
  brake: 'Brake',
  steer: 'Steering',
  gear: 'Gear',
  rpm: 'Engine speed',
  clutch: 'Clutch',
  x: 'Local x',
  y: 'Local y',
  distance: 'Distance',
  lap: 'Lap number',
  beacon: 'Beacon',
  accLong: 'Acceleration along',
  accLat: 'Acceleration across',
  yawRate: 'Yaw rate',
  heading: 'Heading',
  wheelFL: 'Wheel front left',
  wheelFR: 'Wheel front right',
  wheelRL: 'Wheel rear left',
  wheelRR: 'Wheel rear right',
}
/** Stands for a channel that a file does not have; no column is called so. */
const ABSENT = '\u2013'
type Props = { columns: LogPreview['columns']; mapping: LogMapping; onMap: (mapping: LogMapping) => void }

/** Which column of a file is which channel, in which unit, with a few of its values. */
export const LogColumns = ({ columns, mapping, onMap }: Props) => {
  const set = (channel: Channel, column: string): void => {
    const { [channel]: old, ...rest } = mapping
    onMap(column === ABSENT ? rest : { ...rest, [channel]: { column, unit: old?.unit ?? Object.keys(unitsOf(channel))[0] } })
  }
  return (
    <Box
      component="table"
      aria-label="Columns"
      sx={{ width: '100%', borderCollapse: 'collapse', '& td, & th': { p: 1, textAlign: 'left' } }}
    >
      <thead>
        <tr>
          <th>Channel</th>
          <th>Column</th>
          <th>Unit</th>
          <th>A few of its values</th>
        </tr>
      </thead>
      <tbody>
        {allChannels.map((channel) => {
          const chosen = mapping[channel]
          const sample = columns.find((c) => c.name === chosen?.column)?.sample ?? []
          return (
            <tr key={channel}>
              <td>{channelNames[channel]}</td>
              <td>
                <PickField
                  hideLabel
                  width={260}
                  label={`Column of ${channelNames[channel].toLowerCase()}`}
                  value={chosen?.column ?? ABSENT}
                  options={[[ABSENT, 'not in this file'] as const, ...columns.map((c) => [c.name, c.name] as const)]}
                  onPick={(column) => set(channel, column)}
                />
              </td>
              <td>
                {chosen && Object.keys(unitsOf(channel)).length > 1 && (
                  <PickField
                    hideLabel
                    width={120}
                    label={`Unit of ${channelNames[channel].toLowerCase()}`}
                    value={chosen.unit}
                    options={Object.keys(unitsOf(channel)).map((unit) => [unit, unit] as const)}
                    onPick={(unit) => onMap({ ...mapping, [channel]: { ...chosen, unit } })}
                  />
                )}
              </td>
              <td className="figures">{sample.map((v) => (v === null ? '–' : Number(v.toPrecision(6)))).join(' · ')}</td>
            </tr>
          )
        })}
      </tbody>
    </Box>
  )
}
