import { Box, Button, Stack } from '@mui/material'
import { api } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { queryClient, runSheetQuery, sheetLinkQuery, sheetQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { browserLanguage, wordsIn } from '../../shared/language/words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { PhoneAddress } from '../../shared/qr-address.tsx'
import { Reading } from '../../shared/reading.tsx'
import { SheetPage } from './sheet-page.tsx'

/** A student's sheet as the instructor sees it, with its link. */
export const StudentSheet = () => {
  const { runId = '' } = useParams()
  const sheet = useQuery({ ...runSheetQuery(runId), staleTime: 0 })
  const navigate = useNavigate()
  const printed = useMutation({ mutationFn: () => call(api.sheetPrinted, { params: { runId } }) })
  if (!sheet.data) return <Reading what={say`Writing the sheet …`} error={sheet.error} />
  return (
    <SheetPage sheet={sheet.data}>
      <Stack direction="row" spacing={2} useFlexGap className="no-print" sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Button
          variant="contained"
          onClick={() => {
            printed.mutate()
            window.print()
          }}
        >
          {say`Print`}
        </Button>
        <Button variant="outlined" onClick={() => navigate(`/debrief/${runId}`)}>
          {say`Back to the debrief`}
        </Button>
        <SheetLink runId={runId} />
      </Stack>
    </SheetPage>
  )
}

/** A student's sheet by its link, without signing in. */
export const SharedSheet = () => {
  const { token = '' } = useParams()
  const sheet = useQuery(sheetQuery(token))
  if (sheet.isPending)
    return (
      <Box component="main" sx={{ maxWidth: 520, mx: 'auto', p: 4 }}>
        <Reading what={wordsIn(browserLanguage()).phone.reading} />
      </Box>
    )
  if (!sheet.data)
    return (
      <Box component="main" sx={{ maxWidth: 520, mx: 'auto', p: 4 }}>
        <ProblemNote error={sheet.error} language={browserLanguage()} />
      </Box>
    )
  return <SheetPage sheet={sheet.data} />
}

/** Gives out a link to the sheet, shows it, and withdraws it. */
const SheetLink = ({ runId }: { runId: string }) => {
  const link = useQuery(sheetLinkQuery(runId))
  const set = (answer: { token: string | null }): void => {
    queryClient.setQueryData(sheetLinkQuery(runId).queryKey, answer)
  }
  const give = useMutation({ mutationFn: () => call(api.giveSheet, { params: { runId } }), onSuccess: set })
  const withdraw = useMutation({ mutationFn: () => call(api.withdrawSheet, { params: { runId } }), onSuccess: set })
  const path = link.data?.token ? `/sheet/${link.data.token}` : null
  return (
    <>
      <ProblemNote error={link.error ?? give.error ?? withdraw.error} />
      {path ? (
        <>
          <PhoneAddress path={path} name={say`The sheet`} size={120} />
          <Button variant="outlined" onClick={() => withdraw.mutate()}>
            {say`Withdraw the link`}
          </Button>
        </>
      ) : (
        <Button variant="outlined" disabled={link.isPending} onClick={() => give.mutate()}>
          {say`Create a link`}
        </Button>
      )}
    </>
  )
}
