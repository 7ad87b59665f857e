import type { Attachment } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogTitle from '@mui/material/DialogTitle'
import IconButton from '@mui/material/IconButton'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { DeleteOutlinedIcon } from '../../ui/icons.tsx'
import { useAddAttachmentMutation, useAttachmentsQuery, useWithdrawAttachmentMutation } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { useFileAddress } from './useFileAddress.ts'

/** Photos and files of the callout: the camera one touch away, what is taken kept before it is sent. */
export function Attachments({ account, callout }: Pick<StageProps, 'account' | 'callout'>) {
  const { data, error } = useAttachmentsQuery(callout.id)
  const [add, { error: refused, isLoading }] = useAddAttachmentMutation()
  const [caption, setCaption] = useState('')
  const camera = useRef<HTMLInputElement>(null)
  const files = useRef<HTMLInputElement>(null)
  const working = canWork(account) && callout.state !== 'closed'
  const standing = (data ?? []).filter(({ withdrawn }) => !withdrawn)
  const take = async (chosen: FileList | null) => {
    let failed = false
    for (const file of chosen ?? []) {
      const outcome = await add({ calloutId: callout.id, id: uuidv7(), caption: caption.trim(), file })
      failed ||= outcome.error !== undefined
    }
    if (!failed) setCaption('')
  }
  const input = (ref: React.RefObject<HTMLInputElement | null>, label: string, some: object) => (
    <input
      ref={ref}
      type="file"
      aria-label={label}
      hidden
      onChange={({ target }) => void take(target.files).then(() => (target.value = ''))}
      {...some}
    />
  )
  if (!working && standing.length === 0) return null
  return (
    <Section title="Photos and files">
      {working && (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center', mb: 1.5 }}>
          <TextField
            label="What it shows"
            value={caption}
            onChange={(event) => setCaption(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 500 } }}
            sx={{ flex: 1, minWidth: 220 }}
          />
          <Button
            variant="contained"
            size="large"
            disabled={isLoading}
            onClick={() => camera.current?.click()}
            sx={{ flex: { xs: '1 1 100%', sm: 'none' } }}
          >
            Take a photo
          </Button>
          <Button variant="outlined" size="large" disabled={isLoading} onClick={() => files.current?.click()}>
            Add files
          </Button>
          {input(camera, 'Photo', { accept: 'image/*', capture: 'environment' })}
          {input(files, 'Files', { multiple: true })}
        </Box>
      )}
      <Problem error={refused ?? error} />
      <Box
        component="ul"
        aria-label="Photos and files"
        sx={{
          listStyle: 'none',
          p: 0,
          m: 0,
          display: 'grid',
          gap: 2,
          gridTemplateColumns: 'repeat(auto-fill, minmax(150px, 1fr))',
        }}
      >
        {standing.map((one) => (
          <Tile key={one.id} attachment={one} working={working} />
        ))}
      </Box>
    </Section>
  )
}

function Tile({ attachment, working }: { attachment: Attachment; working: boolean }) {
  const { id, fileName, caption, takenAt, addedBy, mediaType } = attachment
  const [withdraw, { error }] = useWithdrawAttachmentMutation()
  const [asked, setAsked] = useState(false)
  const address = useFileAddress(attachment)
  const name = caption || fileName
  const picture = mediaType.startsWith('image/')
  return (
    <Box component="li" sx={{ minWidth: 0 }}>
      {address !== null && (
        <Box
          component="a"
          href={address}
          {...(picture ? { target: '_blank', rel: 'noopener' } : { download: fileName })}
          sx={{ display: 'block', color: 'text.primary' }}
        >
          {picture ? (
            <Box
              component="img"
              src={address}
              alt={name}
              sx={{ width: '100%', aspectRatio: '4 / 3', objectFit: 'cover', borderRadius: 1, display: 'block' }}
            />
          ) : (
            fileName
          )}
        </Box>
      )}
      <Box sx={{ display: 'flex', alignItems: 'flex-start', gap: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography sx={{ overflowWrap: 'anywhere' }}>{picture ? name : caption}</Typography>
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
            {clock(takenAt)}, {addedBy}
          </Typography>
        </Box>
        {working && (
          <IconButton aria-label={`Take out ${name}`} onClick={() => setAsked(true)} className="not-on-paper">
            <DeleteOutlinedIcon />
          </IconButton>
        )}
      </Box>
      <Problem error={error} />
      <Dialog open={asked} onClose={() => setAsked(false)} aria-labelledby={`out-${id}`}>
        <DialogTitle id={`out-${id}`}>Take “{name}” out?</DialogTitle>
        <DialogActions>
          <Button onClick={() => setAsked(false)}>Keep it</Button>
          <Button
            color="error"
            onClick={() => {
              setAsked(false)
              void withdraw(id)
            }}
          >
            Take it out
          </Button>
        </DialogActions>
      </Dialog>
    </Box>
  )
}
