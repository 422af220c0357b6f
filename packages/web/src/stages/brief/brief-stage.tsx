import { Box, Button, Stack, Typography } from '@mui/material'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useDay } from '../../app/day-context.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { schemeOf } from '../cones/use-cones.ts'
import { type BriefPage, briefPages } from './brief-pages.ts'

const summary = (page: BriefPage): string => {
  switch (page.kind) {
    case 'lines':
    case 'circuit':
      return page.lines.map((line) => line.replace(/\.$/, '')).join('. ')
    case 'flags':
      return page.flags.map((f) => f.name).join(', ')
    case 'cones':
      return page.scheme.name
    case 'corner':
      return page.line
  }
}

/** The briefing before it is given: its pages in order, made from the day's plan. */
export const BriefStage = () => {
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const pages = useMemo(() => (plan ? briefPages(plan, day?.plan, schemeOf(settings?.schemeId)) : []), [plan, day, settings?.schemeId])
  return (
    <Stack spacing={2}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        <Typography variant="h1">Briefing</Typography>
        <Typography color="text.secondary">{`${pages.length} pages, made from this plan and always in step with it`}</Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" component={Link} to="/brief/present?page=1">
          Present
        </Button>
      </Stack>
      <ProblemNote error={error} />
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none', maxWidth: 900 }}>
        {pages.map((page, i) => (
          <Box component="li" key={page.id}>
            <Box
              component={Link}
              to={`/brief/present?page=${i + 1}`}
              sx={{
                display: 'grid',
                gridTemplateColumns: '36px 190px 1fr',
                gap: 2,
                py: 0.9,
                borderBottom: '1px solid',
                borderColor: 'divider',
                color: 'inherit',
                textDecoration: 'none',
                '&:hover': { backgroundColor: 'var(--verge)' },
              }}
            >
              <Box component="span" className="figures" sx={{ color: 'text.secondary', textAlign: 'right' }}>
                {i + 1}
              </Box>
              <Box
                component="span"
                sx={{ fontWeight: 620, color: page.kind === 'lines' && page.tone === 'safety' ? 'error.main' : 'text.primary' }}
              >
                {page.title}
              </Box>
              <Box
                component="span"
                sx={{ color: 'text.secondary', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontSize: '0.9rem' }}
              >
                {summary(page)}
              </Box>
            </Box>
          </Box>
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary">
        While presenting: → and ← turn pages, Home is the first, Escape ends.
      </Typography>
    </Stack>
  )
}
