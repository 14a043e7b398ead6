import { createTheme } from '@mui/material/styles';

/** The library's few parts in use take their look from the tokens. */
export const theme = createTheme({
  typography: { fontFamily: 'var(--sans)', fontSize: 14 },
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
  },
});
