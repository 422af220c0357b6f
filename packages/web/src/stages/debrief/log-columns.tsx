import { Box } from '@mui/material'
import type { LogPreview } from '@ochote/contract'
import { channelNames as allChannels, type Channel, type LogMapping, unitsOf } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'

/** Name of each channel of a log. */
export const channelNames: Record<Channel, string> = {
  time: say`Time`,
  lat: say`Latitude`,
  lon: say`Longitude`,
  ele: say`Height`,
  speed: say`Speed`,
  throttle: say`Throttle`,
  brake: say`Brake`,
  steer: say`Steering`,
  gear: say`Gear`,
  rpm: say`Engine speed`,
  clutch: say`Clutch`,
  x: say`Local x`,
  y: say`Local y`,
  distance: say`Distance`,
  lap: say`Lap number`,
  beacon: say`Beacon`,
  accLong: say`Acceleration along`,
  accLat: say`Acceleration across`,
  yawRate: say`Yaw rate`,
  heading: say`Heading`,
  wheelFL: say`Wheel front left`,
  wheelFR: say`Wheel front right`,
  wheelRL: say`Wheel rear left`,
  wheelRR: say`Wheel rear right`,
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
      aria-label={say`Columns`}
      sx={{ width: '100%', borderCollapse: 'collapse', '& td, & th': { p: 1, textAlign: 'left' } }}
    >
      <thead>
        <tr>
          <th>{say`Channel`}</th>
          <th>{say`Column`}</th>
          <th>{say`Unit`}</th>
          <th>{say`A few of its values`}</th>
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
                  label={say`Column of ${inside(channelNames[channel])}`}
                  value={chosen?.column ?? ABSENT}
                  options={[[ABSENT, say`not in this file`] as const, ...columns.map((c) => [c.name, c.name] as const)]}
                  onPick={(column) => set(channel, column)}
                />
              </td>
              <td>
                {chosen && Object.keys(unitsOf(channel)).length > 1 && (
                  <PickField
                    hideLabel
                    width={120}
                    label={say`Unit of ${inside(channelNames[channel])}`}
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
