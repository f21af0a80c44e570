import Dialog, { type DialogProps } from '@mui/material/Dialog'

interface Props extends Omit<DialogProps, 'onClose'> {
  onClose: () => void
  /** Keeps its height whatever comes late, so that nothing moves under the pointer. */
  tall?: boolean
}

/** A dialog in which something is being chosen or typed: a click beside it does not throw that away. */
export function Sheet({ onClose, tall, ...rest }: Props) {
  return <Dialog fullWidth onClose={(_, reason) => reason !== 'backdropClick' && onClose()} sx={tall ? { '& .MuiDialog-paper': { height: 'min(640px, calc(100vh - 64px))' } } : undefined} {...rest} />
}
