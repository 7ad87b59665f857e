import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddAttachmentMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import type { StageProps } from '../callout/stageProps.ts'

/** Photos of a step: kept on this device and sent like everything else; where they were taken is left out unless wanted. */
export function StepPhoto({
  callout,
  caption,
  photos,
  onPhotos,
}: Pick<StageProps, 'callout'> & { caption: string; photos: readonly string[]; onPhotos(ids: string[]): void }) {
  const [add, { error, isLoading }] = useAddAttachmentMutation()
  const [keepPosition, setKeepPosition] = useState(false)
  const camera = useRef<HTMLInputElement>(null)
  const file = useRef<HTMLInputElement>(null)
  const take = async (files: FileList | null) => {
    const added: string[] = []
    for (const one of files ?? []) {
      const id = uuidv7()
      const { error: failed } = await add({
        calloutId: callout.id,
        id,
        caption: caption.slice(0, 500),
        file: one,
        keepPosition,
      })
      if (!failed) added.push(id)
    }
    if (added.length > 0) onPhotos([...photos, ...added])
  }
  return (
    <Box sx={{ mb: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <Button
          variant="outlined"
          size="large"
          disabled={isLoading}
          onClick={() => camera.current?.click()}
          sx={{ minHeight: 56 }}
        >
          {photos.length === 0 ? 'Take a photo' : 'Another photo'}
        </Button>
        <Button size="large" disabled={isLoading} onClick={() => file.current?.click()} sx={{ minHeight: 56 }}>
          From a file
        </Button>
        <Typography component="output">
          {photos.length === 0
            ? 'A photo is wanted here.'
            : photos.length === 1
              ? '1 photo kept'
              : `${photos.length} photos kept`}
        </Typography>
        <FormControlLabel
          control={<Checkbox checked={keepPosition} onChange={({ target }) => setKeepPosition(target.checked)} />}
          label="Keep where it was taken"
        />
      </Box>
      <input
        ref={camera}
        type="file"
        aria-label="Photo of this step"
        accept="image/*"
        capture="environment"
        hidden
        onChange={({ target }) => void take(target.files).then(() => (target.value = ''))}
      />
      <input
        ref={file}
        type="file"
        aria-label="Picture file of this step"
        accept="image/*"
        hidden
        onChange={({ target }) => void take(target.files).then(() => (target.value = ''))}
      />
      <Problem error={error} />
    </Box>
  )
}
