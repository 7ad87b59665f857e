import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { useAddressQuery } from '../api/api.ts'
import { findCode, pixelsOf, readCode } from './scan.ts'

/** Looked at so often, ms. */
const LOOK_EVERY = 200

/** Scans the tag on a closure, or the code on the lead's screen, and opens what it stands for. */
export function ScanDialog({ onClose }: { onClose(): void }) {
  const navigate = useNavigate()
  const { data: address } = useAddressQuery()
  const video = useRef<HTMLVideoElement>(null)
  const picture = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [camera, setCamera] = useState<'asked' | 'on' | 'none'>('asked')
  const own = useRef<string[]>([])
  useEffect(() => {
    const { publicAddress } = address ?? { publicAddress: null }
    own.current = [location.origin, ...(publicAddress === null ? [] : [new URL(publicAddress).origin])]
  }, [address])

  const take = (text: string) => {
    const scanned = readCode(text, own.current)
    if ('problem' in scanned) return setProblem(scanned.problem)
    onClose()
    void navigate(scanned.path)
  }
  const latest = useRef(take)
  useEffect(() => {
    latest.current = take
  })

  useEffect(() => {
    let stream: MediaStream | null = null
    let timer: ReturnType<typeof setTimeout> | undefined
    let gone = false
    const look = async () => {
      const seen = video.current
      if (seen && seen.videoWidth > 0) {
        const pixels = pixelsOf(seen, seen.videoWidth, seen.videoHeight)
        const text = pixels && (await findCode(pixels))
        if (gone) return
        if (text) latest.current(text)
      }
      timer = setTimeout(() => void look(), LOOK_EVERY)
    }
    const begin = async () => {
      // Over plain http browsers give no camera stream.
      if (!('mediaDevices' in navigator)) return setCamera('none')
      try {
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
      } catch {
        return setCamera('none')
      }
      if (gone) return stream.getTracks().forEach((track) => track.stop())
      setCamera('on')
      if (video.current) video.current.srcObject = stream
      void look()
    }
    void begin()
    return () => {
      gone = true
      clearTimeout(timer)
      stream?.getTracks().forEach((track) => track.stop())
    }
  }, [])

  const readPicture = async (file: File) => {
    setProblem(null)
    const image = await createImageBitmap(file).catch(() => null)
    const pixels = image && pixelsOf(image, image.width, image.height)
    const text = pixels && (await findCode(pixels))
    if (text) take(text)
    else setProblem('No code is seen in this picture: nearer, straight on, with light.')
  }
  return (
    <Dialog open onClose={onClose} aria-labelledby="scan" fullWidth>
      <DialogTitle id="scan">Scan a tag</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        {camera === 'none' ? (
          <Alert severity="info" variant="outlined">
            No camera stream here:{' '}
            {globalThis.isSecureContext ? 'it is not there or not allowed' : 'this address is plain http'}. Take a
            picture of the code.
          </Alert>
        ) : (
          <Box
            component="video"
            ref={video}
            autoPlay
            muted
            playsInline
            aria-label="Camera"
            sx={{ width: '100%', aspectRatio: '1', objectFit: 'cover', borderRadius: 1, bgcolor: '#000' }}
          />
        )}
        {problem !== null && (
          <Alert severity="warning" variant="outlined">
            {problem}
          </Alert>
        )}
        <input
          ref={picture}
          type="file"
          accept="image/*"
          capture="environment"
          hidden
          aria-label="Picture of the code"
          onChange={({ target }) => {
            const file = target.files?.[0]
            if (file) void readPicture(file)
            target.value = ''
          }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={() => picture.current?.click()}>Take a picture of it</Button>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
