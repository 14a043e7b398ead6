import { createTheme } from '@mui/material/styles';

/** The colours of tokens.css, which MUI has to compute with: for both schemes, by the same roles. */
const LIGHT = {
  primary: { main: '#17595a', contrastText: '#ffffff' },
  error: { main: '#b93a22' },
  warning: { main: '#8f5e0b' },
  success: { main: '#44691f' },
  background: { default: '#f4f2ec', paper: '#fffefb' },
  text: { primary: '#1d2b33', secondary: '#56656d' },
  divider: '#c9d3d6',
};
const DARK = {
  primary: { main: '#7fc7c4', contrastText: '#10201f' },
  error: { main: '#f08a72' },
  warning: { main: '#e0ad55' },
  success: { main: '#a3c97b' },
  background: { default: '#151d20', paper: '#1d272b' },
  text: { primary: '#e8e6dd', secondary: '#a9b6bb' },
  divider: '#3b4a50',
};

/** MUI’s components with the face of LOOK.md: card stock, ruled lines, ink. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'media' },
  colorSchemes: { light: { palette: LIGHT }, dark: { palette: DARK } },
  typography: { fontFamily: 'var(--sans)', fontSize: 14, button: { textTransform: 'none', fontWeight: 600 } },
  shape: { borderRadius: 4 },
  components: {
    MuiPaper: {
      styleOverrides: {
        root: {
          backgroundColor: 'var(--card)',
          backgroundImage: 'none',
          color: 'var(--ink)',
          border: '1px solid var(--field-rule)',
          borderRadius: 4,
          boxShadow: 'var(--shadow)',
        },
      },
    },
    MuiButton: { defaultProps: { disableElevation: true }, styleOverrides: { root: { minHeight: 34 } } },
    MuiInputBase: { styleOverrides: { root: { fontSize: 15 }, input: { padding: '4px 0' } } },
    MuiAutocomplete: {
      styleOverrides: { root: { width: '100%' }, option: { fontSize: 14, minHeight: 30 }, listbox: { padding: 4 } },
    },
  },
});
