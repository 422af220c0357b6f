import { Box, Button, Stack, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { networkQuery } from '../../data/api/queries.ts'
import { keepsPages } from '../../data/api/reachable.ts'
import { say } from '../../language/say.ts'
import { columns } from '../../look/columns.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { CopyText, QrAddress, QrWall } from '../../shared/qr-address.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { PairDevices } from './pair-devices.tsx'

/** The command that opens the server to other devices. */
const START = 'bin/start --host'

/** Pages that are open on tablets beside the track. */
const tabletPages = [
  { path: '/run', name: say`In the car` },
  { path: '/run/corner-post', name: say`Corner post` },
  { path: '/run/lead-follow', name: say`Lead-follow` },
  { path: '/cones/lay', name: say`Laying cones` },
] as const

/** The squares for tablets on the projector, for all who set up theirs at once. */
export const NetworkWall = () => {
  const network = useQuery(networkQuery)
  const { addresses = [], onboarding = [] } = network.data ?? {}
  const trust = onboarding.slice(0, 1).map((address) => ({ name: say`First: trust this server`, address }))
  const pages = addresses.slice(0, 1).flatMap((address) => tabletPages.map(({ path, name }) => ({ name, address: `${address}${path}` })))
  return (
    <Stack component="main" spacing={6} sx={{ minHeight: '100dvh', px: { xs: 4, sm: 7 }, py: { xs: 4, sm: 6 } }}>
      <ProblemNote error={network.error} />
      <Typography component="h1" sx={{ fontSize: 'size.head', fontWeight: 680, fontStretch: '86%', lineHeight: 1.05 }}>
        {say`A page on a tablet`}
      </Typography>
      {network.data && pages.length === 0 && <Typography>{say`No other device can open this server yet`}</Typography>}
      <QrWall squares={[...trust, ...pages]} />
    </Stack>
  )
}

/** How phones and tablets reach this server: first to trust it, then to open it. */
export const NetworkPage = ({ children }: { children?: ReactNode }) => {
  const network = useQuery(networkQuery)
  const { addresses = [], onboarding = [], fingerprint = null } = network.data ?? {}
  return (
    <Stack spacing={4}>
      <StageHead stage="School">
        {addresses.length > 0 && (
          <>
            <Button
              size="small"
              variant="outlined"
              className="no-print"
              onClick={() => window.open('/school/network/wall', 'ochote-projector', 'popup')}
            >
              {say`Show on the projector`}
            </Button>
            <Button size="small" variant="outlined" className="no-print" onClick={() => window.print()}>
              {say`Print`}
            </Button>
          </>
        )}
      </StageHead>
      <ProblemNote error={network.error} />
      {network.isLoading && <Reading what={say`Asking for the addresses …`} />}
      <Typography role="status">
        {keepsPages()
          ? say`This device keeps pages without the network: its connection is secure.`
          : say`This device keeps no pages without the network: its connection is not secure.`}
      </Typography>
      {network.data && addresses.length === 0 && (
        <Box sx={{ maxWidth: 720 }}>
          <Typography variant="head" component="h2">
            {say`No other device can open this server yet`}
          </Typography>
          <Typography>{say`It listens to this machine alone. Stop it, and start it again with:`}</Typography>
          <Box component="pre" sx={{ my: 2, p: 3, backgroundColor: 'var(--verge)' }}>
            {START}
          </Box>
          <Typography variant="text">
            {say`It then makes a certificate authority of its own, so that tablets keep their pages without a network, and shows here how a tablet comes to trust it.`}
          </Typography>
        </Box>
      )}
      {addresses.length > 0 && (
        <Box component="section" aria-label={say`A page on a tablet`} sx={{ order: 9 }}>
          <Typography variant="head" component="h2" gutterBottom>
            {say`A page on a tablet`}
          </Typography>
          <Stack direction="row" useFlexGap spacing={5} sx={{ flexWrap: 'wrap' }}>
            {tabletPages.map(({ path, name }) => (
              <Stack key={path} spacing={1}>
                <Box sx={{ fontWeight: 640 }}>{name}</Box>
                <QrAddress address={`${addresses[0]}${path}`} name={name} size={112} />
              </Stack>
            ))}
          </Stack>
        </Box>
      )}
      {children}
      <Box sx={columns('minmax(0, 1fr) minmax(0, 1fr)')}>
        {onboarding.length > 0 && (
          <Stack spacing={2} component="section" aria-label={say`Trust this server`}>
            <Typography variant="head" component="h2">
              {say`1 Once for each device: trust this server`}
            </Typography>
            <Typography variant="text">{say`Scan this with the tablet or phone; the page that opens says what to do.`}</Typography>
            {onboarding.map((address) => (
              <QrAddress key={address} address={address} name={say`Trust this server`} size={180} />
            ))}
            {fingerprint && (
              <Typography variant="text" sx={{ overflowWrap: 'anywhere' }}>
                {say`The number to compare with the one on the device: ${fingerprint}`}
              </Typography>
            )}
          </Stack>
        )}
        {addresses.length > 0 && (
          <Stack spacing={2} component="section" aria-label={say`Open the school`}>
            <Typography variant="head" component="h2">
              {onboarding.length > 0 ? say`2 Then: open the school` : say`Open the school`}
            </Typography>
            <Typography variant="text">{say`Sign in there, and open the pages of the day once while the network is there.`}</Typography>
            {addresses.map((address) => (
              <Stack key={address} spacing={1}>
                <QrAddress address={address} name={say`Open the school`} size={180} />
                <Box>
                  <CopyText text={address} label={say`Copy the address`} />
                </Box>
              </Stack>
            ))}
          </Stack>
        )}
      </Box>
    </Stack>
  )
}

/** The same within the shell, with the devices of the day that is worked on. */
export const NetworkOfDay = () => (
  <NetworkPage>
    <PairDevices />
  </NetworkPage>
)
