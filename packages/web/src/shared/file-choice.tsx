import { Button } from '@mui/material'
import { useRef } from 'react'

/** A button that chooses a file and shows its name. */
export const FileChoice = ({
  label,
  accept,
  file,
  onChoose,
}: {
  label: string
  accept: string
  file: File | null
  onChoose: (file: File | null) => void
}) => {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <input ref={input} type="file" accept={accept} hidden aria-label={label} onChange={(e) => onChoose(e.target.files?.[0] ?? null)} />
      <Button variant="outlined" sx={{ whiteSpace: 'nowrap', flexShrink: 0 }} onClick={() => input.current?.click()}>
        {file ? file.name : label}
      </Button>
    </>
  )
}
