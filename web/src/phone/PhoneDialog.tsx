import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { useQuery } from '@tanstack/react-query'
import { QRCodeSVG } from 'qrcode.react'
import { answer, api } from '../api/client'

/** Where this page is opened on a phone, with its square code; or how the server is made to be reached from one. */
export function PhoneDialog({ onClose }: { onClose: () => void }) {
  const reach = useQuery({ queryKey: ['reach'], queryFn: () => answer(api.GET('/api/reach')) })
  const address = reach.data?.address
  const here = address ? `${address}${location.pathname}${location.search}` : ''
  return (
    <Dialog open onClose={onClose} aria-labelledby="phone-title">
      <DialogTitle id="phone-title">On the phone at the bench</DialogTitle>
      <DialogContent sx={{ width: 420, maxWidth: '100%', minHeight: 300 }}>
        {reach.isError && <p>The server does not answer just now.</p>}
        {here && (
          <>
            <p>Point the camera at the code, or type the address. It asks for the passphrase.</p>
            <Box sx={{ display: 'grid', placeItems: 'center', background: '#fff', p: 2 }}>
              <QRCodeSVG value={here} size={200} title={`Square code of ${here}`} />
            </Box>
            <Box component="p" className="figure" sx={{ overflowWrap: 'anywhere' }}>{here}</Box>
          </>
        )}
        {reach.isSuccess && !here && (
          <>
            <p>This server answers on its own machine only. To open it on a phone in the same network, stop it, set a passphrase, and start it with a name and a certificate:</p>
            <Box component="pre" sx={{ fontSize: 12.5, overflowX: 'auto', border: '1px solid var(--line)', p: 1 }}>{'photherm passphrase\nphotherm serve --address 0.0.0.0:8640 \\\n  --host NAME --cert FILE --key FILE'}</Box>
            <p>A proxy that has the certificate will do as well, with --proxy. The README tells more.</p>
          </>
        )}
      </DialogContent>
      <DialogActions>
        {reach.data?.door && (
          <form method="post" action="/logout">
            <Button type="submit">Log out here</Button>
          </form>
        )}
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
