import { create } from 'qrcode'

/** Light modules around the code (ISO/IEC 18004: four). */
const QUIET = 4

/** A text as a QR code, dark on white whatever the theme. Source: ISO/IEC 18004, by a general-purpose package. */
export function QrCode({ text, size, label }: { text: string; size: number; label: string }) {
  const { modules } = create(text, { errorCorrectionLevel: 'M' })
  const side = modules.size + 2 * QUIET
  let path = ''
  for (let y = 0; y < modules.size; y++)
    for (let x = 0; x < modules.size; x++) if (modules.get(y, x)) path += `M${x + QUIET} ${y + QUIET}h1v1h-1z`
  return (
    <svg
      width={size}
      height={size}
      viewBox={`0 0 ${side} ${side}`}
      role="img"
      aria-label={label}
      shapeRendering="crispEdges"
    >
      <rect width={side} height={side} fill="#fff" />
      <path d={path} fill="#000" />
    </svg>
  )
}
