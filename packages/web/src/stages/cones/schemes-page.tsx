import { Alert, Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { type ConeKind, type ConeRule, type ConeScheme, checkScheme, coneSchemes, schemeOf } from '@ochote/core'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { useDay } from '../../data/day/day-context.tsx'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say, sayWhole } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { ConeStock } from './cone-stock.tsx'
import { schemeProblemInWords } from './cone-words.ts'
import { SchemeRules } from './scheme-rules.tsx'

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
    save({
      schemes: [...(schoolSettings.schemes as ConeScheme[]), { ...scheme, id, name: say`${scheme.name.split(':')[0]}, our version` }],
    })
    setChosen(id)
  }
  const problems = checkScheme(scheme, schoolSettings.reserved)
  return (
    <Stack spacing={3}>
      <StageHead stage="Cones" />
      <ProblemNote error={error} />
      <Box sx={columns('minmax(0, 1fr) 300px')}>
        <Stack spacing={3}>
          <Stack direction="row" spacing={3} sx={{ alignItems: 'flex-end' }}>
            <TextField select label={say`Scheme`} value={scheme.id} onChange={(e) => setChosen(e.target.value)} sx={{ width: 330 }}>
              {schemes.map((s) => (
                <MenuItem key={s.id} value={s.id}>
                  {sayWhole(s.name)}
                </MenuItem>
              ))}
            </TextField>
            <Button variant="outlined" onClick={copy}>
              {say`Copy and edit`}
            </Button>
            <Button variant="contained" disabled={settings?.schemeId === scheme.id} onClick={() => changeSettings({ schemeId: scheme.id })}>
              {say`Use it this day`}
            </Button>
          </Stack>
          {ready ? (
            <Typography variant="text" color="text.secondary">
              {say`A ready-made scheme stays as it is. Make your own from it to change colours, shapes, counts and sides.`}
            </Typography>
          ) : (
            <Stack direction="row" spacing={3} sx={{ alignItems: 'flex-end' }}>
              <TextField
                key={scheme.id}
                label={say`Name of this scheme`}
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
                {say`Remove this scheme`}
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
          <SchemeRules scheme={scheme} ready={ready} onRule={rule} />
        </Stack>
        <ConeStock schoolSettings={schoolSettings} save={save} />
      </Box>
    </Stack>
  )
}
