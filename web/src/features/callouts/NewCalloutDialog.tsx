import { newCallout } from '@cold-thread/contract'
import type { Link } from '@cold-thread/core/plant'
import { zodResolver } from '@hookform/resolvers/zod'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Controller, useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { z } from 'zod'
import { useAddCalloutMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'

const form = newCallout.omit({ practiceSeed: true }).extend({ practice: z.boolean() })
type Form = z.infer<typeof form>

export function NewCalloutDialog({ links, onClose }: { links: readonly Link[]; onClose: () => void }) {
  const [add, { error, isLoading }] = useAddCalloutMutation()
  const navigate = useNavigate()
  // One id for the life of the dialog: a second press is the same callout.
  const [id] = useState(() => uuidv7())
  const { register, handleSubmit, control, formState } = useForm<Form>({
    resolver: zodResolver(form),
    defaultValues: { linkId: links[0]?.id ?? '', title: '', alarm: '', practice: false },
  })
  const save = handleSubmit(async ({ practice, ...facts }) => {
    const practiceSeed = practice ? Math.floor(Math.random() * 1e9) : null
    const made = await add({ id, ...facts, practiceSeed })
    if (made.data) await navigate(`/callouts/${made.data.id}/locate`)
  })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form onSubmit={(event) => void save(event)} noValidate>
        <DialogTitle>New callout</DialogTitle>
        <DialogContent>
          <Controller
            name="linkId"
            control={control}
            render={({ field }) => (
              <TextField {...field} select label="Link" fullWidth margin="normal">
                {links.map((link) => (
                  <MenuItem key={link.id} value={link.id}>
                    {link.name}
                  </MenuItem>
                ))}
              </TextField>
            )}
          />
          <TextField
            {...register('title')}
            label="What is wrong"
            fullWidth
            margin="normal"
            autoFocus
            error={!!formState.errors.title}
            helperText={formState.errors.title && 'At least three letters'}
          />
          <TextField
            {...register('alarm')}
            label="Alarm and reports, in words"
            fullWidth
            margin="normal"
            multiline
            minRows={2}
          />
          <Controller
            name="practice"
            control={control}
            render={({ field }) => (
              <FormControlLabel
                control={<Checkbox checked={field.value} onChange={field.onChange} />}
                label="Practice: put a simulated fault into this link and shoot it with the simulated OTDR"
              />
            )}
          />
          <Problem error={error} />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={isLoading}>
            Open the callout
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
