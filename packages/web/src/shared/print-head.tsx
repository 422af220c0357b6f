import { Box, Stack } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { schoolSettingsQuery } from '../data/api/queries.ts'

/** The school's name and logo at the top of a paper; nothing where it has neither. */
export const PrintHead = () => {
  const settings = useQuery(schoolSettingsQuery)
  const { name = '', logo = '' } = settings.data?.schoolSettings ?? {}
  if (name === '' && logo === '') return null
  return (
    <Stack direction="row" spacing={2} sx={{ justifyContent: 'space-between' }}>
      <Box sx={{ fontSize: 'size.note' }}>{name}</Box>
      {logo && <Box component="img" src={logo} alt="" sx={{ maxHeight: '9mm', maxWidth: '30mm' }} />}
    </Stack>
  )
}
