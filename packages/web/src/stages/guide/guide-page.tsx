import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { type Language, languages } from '@ochote/core'
import { isValidElement, type ReactNode, useEffect, useMemo, useState } from 'react'
import Markdown, { type Components } from 'react-markdown'
import { Link, useLocation, useParams } from 'react-router'
import remarkGfm from 'remark-gfm'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { columns } from '../../look/columns.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { StageTabs } from '../../shared/stage-tabs.tsx'
import { anchorOf, findInGuide, guideIn, guidePicture } from './guide-text.ts'

const titles: Record<Language, { guide: string; search: string; none: string }> = {
  en: { guide: 'Guide', search: 'Search the guide', none: 'Nothing of that in the guide.' },
  de: { guide: 'Anleitung', search: 'In der Anleitung suchen', none: 'Davon steht nichts in der Anleitung.' },
}

const plain = (children: ReactNode): string =>
  Array.isArray(children)
    ? children.map(plain).join('')
    : typeof children === 'string' || typeof children === 'number'
      ? String(children)
      : isValidElement<{ children?: ReactNode }>(children)
        ? plain(children.props.children)
        : ''

/** Headings can be led to, links between pages stay in the guide, other files are in the repository alone. */
const parts: Components = {
  h2: ({ children }) => (
    <Typography variant="head" component="h2" id={anchorOf(plain(children))} sx={{ mt: 5, mb: 2 }}>
      {children}
    </Typography>
  ),
  h3: ({ children }) => (
    <Typography component="h3" id={anchorOf(plain(children))} sx={{ mt: 4, mb: 1, fontWeight: 680 }}>
      {children}
    </Typography>
  ),
  a: ({ href = '', children }) =>
    /^[a-z]+\.md$/.test(href) ? <Link to={`/guide/${href.slice(0, -3)}`}>{children}</Link> : <span>{children}</span>,
  pre: ({ children }) => (
    <Box
      component="pre"
      tabIndex={0}
      role="region"
      aria-label={`${plain(children).trim().split('\n')[0].slice(0, 60)}, scrolls`}
      sx={{ p: 3, backgroundColor: 'var(--verge)', overflow: 'auto' }}
    >
      {children}
    </Box>
  ),
  table: ({ children }) => (
    <Box role="region" aria-label={`${plain(children).slice(0, 60)}, scrolls`} tabIndex={0} sx={{ overflow: 'auto' }}>
      <Box
        component="table"
        sx={{
          borderCollapse: 'collapse',
          '& td, & th': { textAlign: 'left', verticalAlign: 'top', borderBottom: 'hair', borderColor: 'divider', p: 1, pr: 4 },
        }}
      >
        {children}
      </Box>
    </Box>
  ),
}

/** The guide inside the product: without a network, searched, in both languages, from the same files as in the repository. */
export const GuideStage = () => {
  const { page = 'start' } = useParams()
  const { hash } = useLocation()
  const { schoolSettings } = useSchoolSettings()
  const [chosen, setChosen] = useState<Language | null>(null)
  const [search, setSearch] = useState('')
  const language = chosen ?? schoolSettings.staff.language
  const words = titles[language]
  const pages = useMemo(() => guideIn(language), [language])
  const shown = pages.find((p) => p.id === page) ?? pages[0]
  const found = useMemo(() => findInGuide(pages, search), [pages, search])
  const picture = guidePicture(shown.id)
  useEffect(() => {
    if (hash) document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView()
  }, [hash])
  return (
    <Stack spacing={4} lang={language}>
      <Stack component="header" direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="title">{words.guide}</Typography>
        <Box sx={{ flex: 1 }} />
        <TextField label={words.search} value={search} onChange={(e) => setSearch(e.target.value)} sx={{ width: 240 }} />
        <PickField
          label={language === 'de' ? 'Sprache' : 'Language'}
          value={language}
          options={languages.map((l) => [l, wordsIn(l).language] as const)}
          onPick={setChosen}
          width={120}
        />
      </Stack>
      <StageTabs
        label={words.guide}
        tabs={pages.map(({ id, title }) => ({
          to: `/guide/${id}`,
          name: title.split(/[,:]/)[0],
          ...(id === 'start' ? { also: '/guide' } : {}),
        }))}
      />
      {search.trim() !== '' && (
        <Box component="section" aria-label={words.search} sx={{ borderLeft: 'note', borderColor: 'text.primary', pl: 3 }}>
          {found.length === 0 && <Typography>{words.none}</Typography>}
          {found.slice(0, 12).map(({ pageId, heading, line }) => (
            <Box key={`${pageId} ${heading} ${line}`} sx={{ py: 1 }}>
              <Button
                size="small"
                variant="text"
                component={Link}
                to={`/guide/${pageId}#${anchorOf(heading)}`}
                onClick={() => setSearch('')}
              >
                {heading}
              </Button>
              <Typography variant="text">{line.slice(0, 220)}</Typography>
            </Box>
          ))}
        </Box>
      )}
      <Box sx={columns('minmax(0, 3fr) minmax(0, 2fr)')}>
        <Box component="article" sx={{ maxWidth: '76ch', '& p, & li': { lineHeight: 1.5 } }}>
          <Typography variant="title" component="h2">
            {shown.title}
          </Typography>
          <Markdown remarkPlugins={[remarkGfm]} components={parts}>
            {shown.text}
          </Markdown>
        </Box>
        {picture && (
          <Box component="figure" sx={{ m: 0, position: { md: 'sticky' }, top: 16 }}>
            <Box component="img" src={picture} alt={shown.title} loading="lazy" sx={{ width: 1, border: 'hair', borderColor: 'divider' }} />
          </Box>
        )}
      </Box>
    </Stack>
  )
}
