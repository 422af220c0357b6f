import { Button, TableBody, TableCell, TableHead, TableRow, TextField } from '@mui/material'
import {
  type ConeColour,
  type ConeKind,
  type ConeRule,
  type ConeScheme,
  type ConeShape,
  coneColourNames,
  coneKinds,
  coneShapes,
} from '@ochote/core'
import { say } from '../../language/say.ts'
import { fineMetres } from '../../language/staff-units.ts'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { WordHelp } from '../../shared/word-help.tsx'

type Props = {
  scheme: ConeScheme
  /** A ready-made scheme stays as it is. */
  ready: boolean
  /** `null` takes the kind's cones away. */
  onRule: (kind: ConeKind, next: Partial<ConeRule> | null) => void
}

/** Appearance and place of each kind of cone. */
export const SchemeRules = ({ scheme, ready, onRule }: Props) => (
  <RowTable aria-label={say`Rules of the scheme`} sx={{ '& .MuiTableCell-root': { py: 1 } }}>
    <TableHead>
      <TableRow>
        <TableCell>{say`For`}</TableCell>
        <TableCell>{say`Sample`}</TableCell>
        <TableCell>{say`Colour`}</TableCell>
        <TableCell>{say`Shape`}</TableCell>
        <TableCell>{say`Cones`}</TableCell>
        <TableCell>{say`Side`}</TableCell>
        <TableCell>{say`Beyond the edge`}</TableCell>
        <TableCell component="td" />
      </TableRow>
    </TableHead>
    <TableBody>
      {coneKinds.map((kind) => {
        const rule = scheme.rules[kind]
        return (
          <TableRow key={kind}>
            <TableCell sx={{ fontWeight: 600 }}>
              {coneNames[kind]}
              {kind === 'sighter' && <WordHelp word="sighter" />}
            </TableCell>
            {rule ? (
              <RuleCells kind={kind} rule={rule} ready={ready} onRule={(next) => onRule(kind, next)} />
            ) : (
              <TableCell colSpan={6} sx={{ color: 'text.secondary' }}>
                {say`no cone`}
              </TableCell>
            )}
            <TableCell align="right">
              {!ready && (
                <Button size="small" variant="text" onClick={() => onRule(kind, rule ? null : {})}>
                  {rule ? say`No cone` : say`Add a cone`}
                </Button>
              )}
            </TableCell>
          </TableRow>
        )
      })}
    </TableBody>
  </RowTable>
)

type CellsProps = { kind: ConeKind; rule: ConeRule; ready: boolean; onRule: (next: Partial<ConeRule>) => void }

const RuleCells = ({ kind, rule, ready, onRule }: CellsProps) => (
  <>
    <TableCell>
      <RuleGlyphs rule={rule} size={20} />
    </TableCell>
    <TableCell>
      <Pick
        label={say`Colour of ${coneNames[kind]}`}
        value={rule.colour}
        options={coneColourNames}
        disabled={ready}
        onPick={(colour) => onRule({ colour: colour as ConeColour })}
      />
    </TableCell>
    <TableCell>
      <Pick
        label={say`Shape of ${coneNames[kind]}`}
        value={rule.shape}
        options={coneShapes}
        disabled={ready}
        onPick={(shape) => onRule({ shape: shape as ConeShape })}
      />
    </TableCell>
    <TableCell>
      <Pick
        label={say`Cones of ${coneNames[kind]}`}
        value={String(rule.count)}
        options={['1', '2', '3', '4', '5']}
        disabled={ready}
        onPick={(count) => onRule({ count: Number(count) })}
      />
    </TableCell>
    <TableCell>
      <Pick
        label={say`Side of ${coneNames[kind]}`}
        value={rule.side}
        options={['outside', 'inside']}
        disabled={ready}
        onPick={(side) => onRule({ side: side as ConeRule['side'] })}
      />
    </TableCell>
    <TableCell>
      <Pick
        label={say`Distance of ${coneNames[kind]}`}
        value={String(rule.beyondEdge_m)}
        options={[...new Set(['0', '0.2', '0.3', '0.4', '0.5', '1', '2', String(rule.beyondEdge_m)])].sort()}
        show={(m) => fineMetres(Number(m))}
        disabled={ready}
        onPick={(metres) => onRule({ beyondEdge_m: Number(metres) })}
      />
    </TableCell>
  </>
)

const Pick = ({
  label,
  value,
  options,
  show = (option) => option,
  disabled,
  onPick,
}: {
  label: string
  value: string
  options: readonly string[]
  /** How an option is written. */
  show?: (option: string) => string
  disabled: boolean
  onPick: (value: string) => void
}) =>
  disabled ? (
    // What cannot be changed is text.
    <span title={label}>{show(value)}</span>
  ) : (
    <TextField
      select
      value={value}
      slotProps={{ select: { native: true }, htmlInput: { 'aria-label': label } }}
      onChange={(e) => onPick(e.target.value)}
    >
      {options.map((o) => (
        <option key={o} value={o}>
          {show(o)}
        </option>
      ))}
    </TextField>
  )
