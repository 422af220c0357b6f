import { Typography } from '@mui/material'
import { type CoreError, type DaySetup, describeError } from '@ochote/core'
import { createContext, type ReactNode, useContext, useMemo } from 'react'
import { staffLanguage } from '../../language/say.ts'
import type { Names } from './use-day-setup.ts'

type Faults = ReadonlyMap<string, string>

const FaultsContext = createContext<Faults>(new Map())

/** An error in words, with the name of whom it is about. */
export const faultInWords = (error: CoreError, names: Names): string => {
  const { message, remedy } = describeError(error, staffLanguage)
  const id = String(error.data.id ?? '')
  return `${id ? message.replace(id, names.student(id)) : message} ${remedy}`
}

/** The field of a fault: its place with ids (of a window: its place) where the setup has rows by number, as in `students 12ab`. */
const fieldOf = (setup: DaySetup, { place }: CoreError): string => {
  const [list, row, ...rest] = place.replaceAll(']', '').split(/[[.]/)
  if (list !== 'students' && list !== 'instructors' && list !== 'cars' && list !== 'formats' && list !== 'windows') return place
  const one = setup[list][Number(row)]
  if (!one) return place
  return [list, 'id' in one ? one.id : one.place, ...rest.filter((part) => part !== 'breaks' && part !== 'out')].join(' ')
}

/** Makes what is wrong known to the fields inside, each of which shows its own. */
export const FaultsAtFields = ({
  setup,
  wrong,
  names,
  children,
}: {
  setup: DaySetup | null
  wrong: readonly CoreError[]
  names: Names
  children: ReactNode
}) => {
  const faults = useMemo(
    () => new Map(setup ? wrong.map((error) => [fieldOf(setup, error), faultInWords(error, names)] as const) : []),
    [setup, wrong, names],
  )
  return <FaultsContext value={faults}>{children}</FaultsContext>
}

/** What is wrong at a field, as in `windows track` or `formats 12ab minutes`, told below it. */
export const FaultAt = ({ field }: { field: string }) => {
  const fault = useContext(FaultsContext).get(field)
  return fault === undefined ? null : (
    <Typography variant="text" role="alert" sx={{ color: 'warning.main', flexBasis: '100%' }}>
      {fault}
    </Typography>
  )
}
