import { MenuItem, TextField } from '@mui/material'

/** One of a few values, chosen from a list; the label names the field, each option is shown by its words. */
export const PickField = <V extends string>({
  label,
  value,
  options,
  onPick,
  width,
  disabled = false,
  hideLabel = false,
}: {
  label: string
  value: V
  options: readonly (readonly [V, string])[]
  onPick: (value: V) => void
  /** In pixels, or `grow` to take the room that is left; as wide as its surroundings where not given. */
  width?: number | 'grow'
  disabled?: boolean
  /** True where a table's head names the field already: the label is then for screen readers alone. */
  hideLabel?: boolean
}) => (
  <TextField
    select
    {...(hideLabel ? { slotProps: { select: { SelectDisplayProps: { 'aria-label': label } } } } : { label })}
    value={value}
    disabled={disabled}
    onChange={(e) => onPick(e.target.value as V)}
    sx={width === undefined ? {} : width === 'grow' ? { flex: 1 } : { width }}
  >
    {options.map(([option, words]) => (
      <MenuItem key={option} value={option}>
        {words}
      </MenuItem>
    ))}
  </TextField>
)
