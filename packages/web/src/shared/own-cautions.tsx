import { Typography } from '@mui/material'

/** Cautions of the school's own, where a student reads the product's. */
export const OwnCautions = ({ cautions, variant }: { cautions: readonly string[]; variant: 'note' | 'text' }) =>
  cautions.map((caution) => (
    <Typography key={caution} variant={variant} color="text.secondary">
      {caution}
    </Typography>
  ))
