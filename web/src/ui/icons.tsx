import {
  mdiCheck,
  mdiDelete,
  mdiDeleteOutline,
  mdiDragVertical,
  mdiLogout,
  mdiMinus,
  mdiPencilOutline,
  mdiPin,
  mdiPinOutline,
  mdiPlus,
  mdiQrcodeScan,
  mdiVolumeHigh,
  mdiWeatherNight,
  mdiWhiteBalanceSunny,
} from '@mdi/js'
import { createSvgIcon } from '@mui/material/utils'

const icon = (path: string, name: string) => createSvgIcon(<path d={path} />, name)

export const AddIcon = icon(mdiPlus, 'Add')
export const CheckIcon = icon(mdiCheck, 'Check')
export const DarkThemeIcon = icon(mdiWeatherNight, 'DarkTheme')
export const DeleteIcon = icon(mdiDelete, 'Delete')
export const DeleteOutlinedIcon = icon(mdiDeleteOutline, 'DeleteOutlined')
export const DragIcon = icon(mdiDragVertical, 'Drag')
export const EditIcon = icon(mdiPencilOutline, 'Edit')
export const LightThemeIcon = icon(mdiWhiteBalanceSunny, 'LightTheme')
export const PinIcon = icon(mdiPin, 'Pin')
export const PinOutlinedIcon = icon(mdiPinOutline, 'PinOutlined')
export const RemoveIcon = icon(mdiMinus, 'Remove')
export const ScanCodeIcon = icon(mdiQrcodeScan, 'ScanCode')
export const SignOutIcon = icon(mdiLogout, 'SignOut')
export const SoundIcon = icon(mdiVolumeHigh, 'Sound')
