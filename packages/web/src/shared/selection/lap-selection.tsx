import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'

/** One corner and one place on the lap, shared by band, ground view, charts and tables. */
export type LapSelection = {
  cornerId: string | null
  station_m: number | null
  selectCorner: (cornerId: string | null) => void
  moveTo: (station_m: number | null) => void
}

const Selection = createContext<LapSelection | null>(null)

/** Holds the selection for the pages below it. */
export const LapSelectionProvider = ({ children, initialCornerId = null }: { children: ReactNode; initialCornerId?: string | null }) => {
  const [cornerId, selectCorner] = useState<string | null>(initialCornerId)
  const [station_m, moveTo] = useState<number | null>(null)
  const value = useMemo(() => ({ cornerId, station_m, selectCorner, moveTo }), [cornerId, station_m])
  return <Selection value={value}>{children}</Selection>
}

/** The shared selection. */
export const useLapSelection = (): LapSelection => {
  const selection = useContext(Selection)
  if (!selection) throw new Error('No lap selection around this component')
  return selection
}
