import { Box, Button, Stack, Typography } from '@mui/material'
import { QRCodeSVG } from 'qrcode.react'
import { useState } from 'react'
import { Link } from 'react-router'
import { useReachable } from '../data/api/reachable.ts'
import { say } from '../language/say.ts'

/** An address as a square that a phone reads, always dark on light, with the address in letters below. */
export const QrAddress = ({ address, name, size = 148 }: { address: string; name: string; size?: number }) => (
  <Stack spacing={1} sx={{ width: 'max-content', maxWidth: 1 }}>
    <QRCodeSVG value={address} size={size} marginSize={2} title={`${name}: ${address}`} />
    <Box sx={{ fontSize: 'size.note', overflowWrap: 'anywhere', maxWidth: Math.max(size, 220) }}>{address}</Box>
  </Stack>
)

/** Squares for a room, with whose or what they are; the addresses are too long to be typed from there. */
export const QrWall = ({ squares }: { squares: readonly { name: string; address: string }[] }) => (
  <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(230px, 1fr))', columnGap: 5, rowGap: 3 }}>
    {squares.map(({ name, address }) => (
      <Stack key={address} spacing={1} sx={{ alignItems: 'center' }}>
        <QRCodeSVG value={address} size={210} marginSize={2} title={`${name}: ${address}`} />
        <Box sx={{ fontSize: 'size.note', lineHeight: 1.1, textAlign: 'center' }}>{name}</Box>
      </Stack>
    ))}
  </Box>
)

/** Copies a text and says whether it did. */
export const CopyText = ({ text, label = say`Copy` }: { text: string; label?: string }) => {
  const [said, setSaid] = useState<string | null>(null)
  const copy = (): void => {
    const done = navigator.clipboard?.writeText(text) ?? Promise.reject(new Error(say`no clipboard`))
    done.then(
      () => setSaid(say`Copied`),
      () => setSaid(say`Not copied: select it and copy it by hand`),
    )
  }
  return (
    <Button size="small" variant="outlined" aria-live="polite" onClick={copy}>
      {said ?? label}
    </Button>
  )
}

/** A page of this server for a phone: as a square and in letters, with an address that phones can reach, or why there is none. */
export const PhoneAddress = ({ path, name, size }: { path: string; name: string; size?: number }) => {
  const { origin, loading } = useReachable()
  if (loading) return null
  const address = `${origin ?? window.location.origin}${path}`
  return (
    <Stack spacing={2} className="phone-address">
      {origin ? (
        <QrAddress address={address} name={name} {...(size === undefined ? {} : { size })} />
      ) : (
        <Typography variant="text">
          {say`Phones cannot open this server: it listens to this machine alone. Start it with --host; see`}{' '}
          <Link to="/school/network">{say`School, Network`}</Link>.
        </Typography>
      )}
      <Stack direction="row" spacing={2} className="no-print" sx={{ alignItems: 'center' }}>
        <CopyText text={address} label={say`Copy the address`} />
        <Button size="small" variant="text" component="a" href={path} aria-label={say`Open here: ${name}`}>
          {say`Open it here`}
        </Button>
      </Stack>
    </Stack>
  )
}
