import { Alert, Box, Button, MenuItem, Stack, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import {
  type ConeColour,
  type ConeKind,
  type ConeRule,
  type ConeScheme,
  type ConeShape,
  checkScheme,
  coneColours,
  coneKinds,
  coneSchemes,
  coneShapes,
  schemeOf,
} from '@ochote/core'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { useDay } from '../../data/day/day-context.tsx'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { RuleGlyphs } from '../../shared/marks/rule-glyphs.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { schemeProblemInWords } from './cone-words.ts'
import { ConesTabs } from './cones-tabs.tsx'

const colours = Object.keys(coneColours) as ConeColour[]
const usual: ConeRule = { colour: 'yellow', shape: 'tall', count: 1, side: 'outside', beyondEdge_m: 0.4 }

/** Schemes of the school's own, and how many cones stand in the shed. */
export const SchemesPage = () => {
  const { settings, changeSettings } = useDay()
  const { schoolSettings, schemes, save, error } = useSchoolSettings()
  const [chosen, setChosen] = useState<string | null>(null)
  const scheme = schemeOf(schemes, chosen ?? settings?.schemeId)
  const ready = coneSchemes.some((s) => s.id === scheme.id)
  const put = (next: ConeScheme): void =>
    save({ schemes: schoolSettings.schemes.map((s) => (s.id === next.id ? next : s)) as ConeScheme[] })
  const rule = (kind: ConeKind, next: Partial<ConeRule> | null): void => {
    const { [kind]: now, ...rest } = scheme.rules
    put({ ...scheme, rules: next === null ? rest : { ...rest, [kind]: { ...(now ?? usual), ...next } } })
  }
  const copy = (): void => {
    const id = uuid()
    save({ schemes: [...(schoolSettings.schemes as ConeScheme[]), { ...scheme, id, name: `${scheme.name.split(':')[0]}, ours` }] })
    setChosen(id)
  }
  const problems = checkScheme(scheme, schoolSettings.reserved)
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center' }}>
        <Typography variant="h1">Cones</Typography>
        <ConesTabs />
      </Stack>
      <ProblemNote error={error} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 300px', gap: 4 }}>
        <Stack spacing={1.5}>
          <Stack direction="row" spacing={1.5} sx={{ alignItems: 'flex-end' }}>
            <TextField select label="Scheme" value={scheme.id} onChange={(e) => setChosen(e.target.value)} sx={{ width: 330 }}>
              {schemes.map((s) => (
                <MenuItem key={s.id} value={s.id}>
                  {s.name}
                </MenuItem>
              ))}
            </TextField>
            <Button variant="outlined" onClick={copy}>
              Copy and edit
            </Button>
            <Button variant="contained" disabled={settings?.schemeId === scheme.id} onClick={() => changeSettings({ schemeId: scheme.id })}>
              Use it this day
            </Button>
          </Stack>
          {ready ? (
            <Typography variant="body2" color="text.secondary">
              A ready-made scheme stays as it is. Make your own from it to change colours, shapes, counts and sides.
            </Typography>
          ) : (
            <Stack direction="row" spacing={1.5} sx={{ alignItems: 'flex-end' }}>
              <TextField
                key={scheme.id}
                label="Name of this scheme"
                defaultValue={scheme.name}
                onBlur={(e) => e.target.value.trim() && put({ ...scheme, name: e.target.value.trim().slice(0, 80) })}
                sx={{ width: 330 }}
              />
              <Button
                variant="text"
                onClick={() => {
                  save({ schemes: schoolSettings.schemes.filter((s) => s.id !== scheme.id) as ConeScheme[] })
                  setChosen(coneSchemes[0].id)
                  if (settings?.schemeId === scheme.id) changeSettings({ schemeId: coneSchemes[0].id })
                }}
              >
                Remove this scheme
              </Button>
            </Stack>
          )}
          {problems.length > 0 && (
            <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
              {problems.map((p) => (
                <Box key={schemeProblemInWords(p)}>{schemeProblemInWords(p)}</Box>
              ))}
            </Alert>
          )}
          <Table size="small" aria-label="Rules of the scheme" sx={{ '& .MuiTableCell-root': { py: 0.3 } }}>
            <TableHead>
              <TableRow>
                <TableCell>For</TableCell>
                <TableCell>Sample</TableCell>
                <TableCell>Colour</TableCell>
                <TableCell>Shape</TableCell>
                <TableCell>Cones</TableCell>
                <TableCell>Side</TableCell>
                <TableCell>Beyond the edge</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {coneKinds.map((kind) => {
                const own = scheme.rules[kind]
                return (
                  <TableRow key={kind}>
                    <TableCell sx={{ fontWeight: 600 }}>{coneNames[kind]}</TableCell>
                    {own ? (
                      <>
                        <TableCell>
                          <RuleGlyphs rule={own} size={20} />
                        </TableCell>
                        <TableCell>
                          <Pick
                            label={`Colour of ${coneNames[kind]}`}
                            value={own.colour}
                            options={colours}
                            disabled={ready}
                            onPick={(colour) => rule(kind, { colour: colour as ConeColour })}
                          />
                        </TableCell>
                        <TableCell>
                          <Pick
                            label={`Shape of ${coneNames[kind]}`}
                            value={own.shape}
                            options={coneShapes}
                            disabled={ready}
                            onPick={(shape) => rule(kind, { shape: shape as ConeShape })}
                          />
                        </TableCell>
                        <TableCell>
                          <Pick
                            label={`Cones of ${coneNames[kind]}`}
                            value={String(own.count)}
                            options={['1', '2', '3', '4', '5']}
                            disabled={ready}
                            onPick={(count) => rule(kind, { count: Number(count) })}
                          />
                        </TableCell>
                        <TableCell>
                          <Pick
                            label={`Side of ${coneNames[kind]}`}
                            value={own.side}
                            options={['outside', 'inside']}
                            disabled={ready}
                            onPick={(side) => rule(kind, { side: side as ConeRule['side'] })}
                          />
                        </TableCell>
                        <TableCell>
                          <Pick
                            label={`Distance of ${coneNames[kind]}`}
                            value={String(own.beyondEdge_m)}
                            options={[...new Set(['0', '0.2', '0.3', '0.4', '0.5', '1', '2', String(own.beyondEdge_m)])].sort()}
                            unit=" m"
                            disabled={ready}
                            onPick={(metres) => rule(kind, { beyondEdge_m: Number(metres) })}
                          />
                        </TableCell>
                      </>
                    ) : (
                      <TableCell colSpan={6} sx={{ color: 'text.secondary' }}>
                        no cone
                      </TableCell>
                    )}
                    <TableCell align="right">
                      {!ready && (
                        <Button size="small" variant="text" onClick={() => rule(kind, own ? null : {})}>
                          {own ? 'No cone' : 'Give it a cone'}
                        </Button>
                      )}
                    </TableCell>
                  </TableRow>
                )
              })}
            </TableBody>
          </Table>
        </Stack>
        <Stack spacing={2}>
          <Box component="section" aria-label="Cones in the shed">
            <Typography variant="h2" sx={{ mb: 0.5 }}>
              Cones in the shed
            </Typography>
            <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
              Where a colour is short, the least worth is left out first. Leave blank if not counted.
            </Typography>
            {colours.map((colour) => (
              <Stack key={colour} direction="row" spacing={1} sx={{ alignItems: 'center', py: 0.3 }}>
                <ConeGlyph colour={colour} shape="tall" size={22} />
                <Box sx={{ width: 70 }}>{colour}</Box>
                <TextField
                  key={`${colour} ${schoolSettings.stock[colour] ?? ''}`}
                  type="number"
                  defaultValue={schoolSettings.stock[colour] ?? ''}
                  slotProps={{ htmlInput: { 'aria-label': `Cones in ${colour}`, min: 0, max: 2000 } }}
                  onBlur={(e) => {
                    const { [colour]: _, ...rest } = schoolSettings.stock
                    const count = Math.round(Number(e.target.value))
                    if (e.target.value === '') save({ stock: rest })
                    else if (count >= 0 && count <= 2000) save({ stock: { ...rest, [colour]: count } })
                  }}
                  sx={{ width: 80 }}
                />
                <Button
                  size="small"
                  variant={schoolSettings.reserved.includes(colour) ? 'contained' : 'text'}
                  aria-pressed={schoolSettings.reserved.includes(colour)}
                  onClick={() =>
                    save({
                      reserved: schoolSettings.reserved.includes(colour)
                        ? schoolSettings.reserved.filter((c) => c !== colour)
                        : [...schoolSettings.reserved, colour],
                    })
                  }
                >
                  reserved for the pits
                </Button>
              </Stack>
            ))}
          </Box>
        </Stack>
      </Box>
    </Stack>
  )
}

const Pick = ({
  label,
  value,
  options,
  unit = '',
  disabled,
  onPick,
}: {
  label: string
  value: string
  options: readonly string[]
  unit?: string
  disabled: boolean
  onPick: (value: string) => void
}) => (
  <TextField
    select
    value={value}
    disabled={disabled}
    slotProps={{ select: { native: true }, htmlInput: { 'aria-label': label } }}
    onChange={(e) => onPick(e.target.value)}
  >
    {options.map((o) => (
      <option key={o} value={o}>{`${o}${unit}`}</option>
    ))}
  </TextField>
)
