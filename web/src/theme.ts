import { createTheme } from '@mui/material/styles'

const text = "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif"

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme' },
  colorSchemes: {
    light: { palette: { primary: { main: '#4148bd' }, error: { main: '#b3123f' }, warning: { main: '#8a5400' }, success: { main: '#0a6b63' }, background: { default: '#f5f6f8', paper: '#ffffff' }, text: { primary: '#1b1e28', secondary: '#575d6d' } } },
    dark: { palette: { primary: { main: '#a9aff8' }, error: { main: '#ff6f91' }, warning: { main: '#f2b13c' }, success: { main: '#5fd0c5' }, background: { default: '#13151c', paper: '#1b1e27' }, text: { primary: '#eceef4', secondary: '#a6adbf' } } },
  },
  spacing: 8,
  shape: { borderRadius: 4 },
  typography: { fontFamily: text, fontSize: 14, button: { textTransform: 'none', fontWeight: 600 } },
  components: {
    MuiButton: { defaultProps: { disableElevation: true, size: 'small' } },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiTooltip: { defaultProps: { enterDelay: 400 } },
  },
})
