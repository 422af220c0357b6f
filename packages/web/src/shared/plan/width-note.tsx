import { Alert, Link } from '@mui/material'
import { assumedStretches, type Plan } from '@ochote/core'
import { Link as RouterLink, useLocation } from 'react-router'
import { say } from '../../language/say.ts'
import { lengthOf, metres } from '../../language/staff-units.ts'

/** Stretches that are named. */
const MOST_STRETCHES = 3

/** Says where the width of the road is assumed: lines and cones beside it are no better than that. */
export const WidthNote = ({ plan: { circuit } }: { plan: Plan }) => {
  const { pathname } = useLocation()
  if (!circuit.widthAssumed) return null
  const stretches = assumedStretches(circuit)
  const first = Math.round((stretches[0]?.from_m ?? 0) / circuit.step_m)
  const [left, right] = [circuit.widthLeft_m[first], circuit.widthRight_m[first]].map(metres)
  const shown = stretches.slice(0, MOST_STRETCHES).map(({ from_m, to_m }) => `${Math.round(lengthOf(from_m))}–${metres(to_m)}`)
  const sides = left === right ? say`${left} on each side are` : say`${left} to the left and ${right} to the right are`
  return (
    <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
      {stretches.length === 0
        ? say`Nobody measured this road’s width: ${sides} assumed. Edges, lines and cones are no better than that. `
        : say`Nobody measured this road’s width at ${shown.join(', ')}${stretches.length > MOST_STRETCHES ? ' …' : ''}: ${sides} assumed. Edges, lines and cones there are no better than that. `}
      {pathname === '/circuit' ? (
        say`Set it under “Correct the survey”.`
      ) : (
        <Link component={RouterLink} to="/circuit">
          {say`Set it on the circuit’s page`}
        </Link>
      )}
    </Alert>
  )
}
