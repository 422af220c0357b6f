import { Alert, Link } from '@mui/material'
import type { Plan } from '@ochote/core'
import { Link as RouterLink, useLocation } from 'react-router'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'

/** Says where the width of the road is assumed: lines and cones beside it are no better than that. */
export const WidthNote = ({ plan: { circuit } }: { plan: Plan }) => {
  const { pathname } = useLocation()
  if (!circuit.widthAssumed) return null
  const [left, right] = [circuit.widthLeft_m[0], circuit.widthRight_m[0]].map(metres)
  const sides = left === right ? say`${left} on each side are` : say`${left} to the left and ${right} to the right are`
  return (
    <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
      {say`Nobody measured this road’s width: ${sides} assumed. Edges, lines and cones are no better than that. `}
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
