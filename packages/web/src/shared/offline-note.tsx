import { Typography } from '@mui/material'
import { Link } from 'react-router'
import { keepsPages } from '../data/api/reachable.ts'
import { say } from '../language/say.ts'

/** Says that this device cannot keep pages without a network, before somebody relies on it. */
export const OfflineNote = () =>
  keepsPages() ? null : (
    <Typography role="note" sx={{ borderLeft: 'note', borderColor: 'warning.main', pl: 3, fontSize: 'size.note' }}>
      {say`This device keeps what is touched, but no pages: its connection is not secure. Without the network a page that is closed does not open again. `}
      <Link to="/school/network">{say`How to make it secure`}</Link>
    </Typography>
  )
