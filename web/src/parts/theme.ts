import { createTheme } from '@mui/material/styles';

/** The colours are those of tokens.css, which holds both schemes: the theme names their roles. */
const palette = {
  primary: { main: 'var(--bottle)', contrastText: 'var(--on-bottle)' },
  error: { main: 'var(--vermilion)', contrastText: 'var(--card)' },
  warning: { main: 'var(--ochre)', contrastText: 'var(--card)' },
  info: { main: 'var(--bottle)', contrastText: 'var(--card)' },
  success: { main: 'var(--moss)', contrastText: 'var(--card)' },
  background: { default: 'var(--page)', paper: 'var(--card)' },
  text: { primary: 'var(--ink)', secondary: 'var(--faded)', disabled: 'var(--faded)' },
  divider: 'var(--rule)',
  action: { active: 'var(--faded)', hover: 'var(--bottle-wash)', selected: 'var(--bottle-wash)' },
};

const focusRing = { outline: '2px solid var(--bottle)', outlineOffset: 1 };
const ruledLine = {
  '&::before': { borderBottom: '1px solid var(--field-rule)' },
  '&:hover:not(.Mui-disabled, .Mui-error)::before': { borderBottom: '1px solid var(--field-rule)' },
  '&::after': { borderBottomColor: 'var(--bottle)', transition: 'none' },
  '&.Mui-focused': { background: 'linear-gradient(transparent, var(--bottle-wash))' },
  '&.Mui-disabled::before': { borderBottomStyle: 'dotted' },
};

/** MUI’s components with Fiche’s face: card stock, ruled lines, ink. Sizes are in px. */
export const theme = createTheme({
  cssVariables: { nativeColor: true, colorSchemeSelector: 'data-scheme' },
  colorSchemes: { light: { palette }, dark: { palette } },
  typography: { fontFamily: 'var(--sans)', fontSize: 14, button: { textTransform: 'none', fontWeight: 600 } },
  shape: { borderRadius: 4 },
  transitions: { create: () => 'none' },
  components: {
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { '&.Mui-focusVisible': focusRing } },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, variant: 'outlined', size: 'small' },
      styleOverrides: {
        root: { minHeight: 32, padding: '3px 14px', fontSize: 14, lineHeight: 1.4, whiteSpace: 'nowrap' },
        outlined: {
          borderColor: 'var(--field-rule)',
          background: 'var(--card)',
          '&:hover': { borderColor: 'currentColor', background: 'var(--card)' },
        },
        contained: { '&.Mui-disabled': { opacity: 0.55, background: 'var(--bottle)', color: 'var(--on-bottle)' } },
        text: {
          minWidth: 0,
          minHeight: 24,
          padding: '1px 4px',
          margin: '0 -4px',
          fontWeight: 400,
          verticalAlign: 'baseline',
          '&:hover': { background: 'none', textDecoration: 'underline', textUnderlineOffset: 2 },
        },
        startIcon: { marginRight: 5, '& > *:nth-of-type(1)': { fontSize: 18 } },
      },
    },
    MuiIconButton: {
      defaultProps: { size: 'small' },
      styleOverrides: { root: { width: 26, height: 26, borderRadius: 4, '& svg': { fontSize: 18 } } },
    },
    MuiToggleButtonGroup: {
      defaultProps: { size: 'small', exclusive: true },
      // The line below says which one is chosen; no line parts it from the others.
      styleOverrides: { grouped: { borderLeftWidth: 0, '&.Mui-selected': { borderLeftWidth: 0 } } },
    },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          minHeight: 26,
          padding: '1px 10px',
          border: 0,
          borderBottom: '2px solid transparent',
          borderRadius: 0,
          color: 'var(--faded)',
          fontSize: 14,
          fontWeight: 400,
          '&.Mui-selected, &.Mui-selected:hover': {
            background: 'none',
            borderColor: 'var(--bottle)',
            color: 'var(--bottle)',
            fontWeight: 600,
          },
        },
      },
    },
    MuiTabs: {
      styleOverrides: { root: { minHeight: 32 }, indicator: { background: 'var(--bottle)' }, list: { gap: 4 } },
    },
    MuiTab: {
      styleOverrides: {
        root: {
          minWidth: 0,
          minHeight: 32,
          padding: '3px 10px',
          fontSize: 14,
          fontWeight: 400,
          color: 'var(--faded)',
          '&.Mui-selected': { fontWeight: 600 },
        },
      },
    },
    MuiPaper: {
      defaultProps: { elevation: 0 },
      styleOverrides: {
        root: { backgroundColor: 'var(--card)', backgroundImage: 'none', color: 'var(--ink)' },
      },
    },
    MuiPopover: { styleOverrides: { paper: { border: '1px solid var(--field-rule)', boxShadow: 'var(--shadow)' } } },
    MuiMenu: { defaultProps: { transitionDuration: 0 } },
    MuiMenuItem: {
      styleOverrides: { root: { minHeight: 32, fontSize: 14, '@media (min-width: 600px)': { minHeight: 30 } } },
    },
    MuiListItemIcon: { styleOverrides: { root: { minWidth: 28, color: 'var(--faded)', '& svg': { fontSize: 18 } } } },
    MuiDialog: {
      styleOverrides: { paper: { border: '1px solid var(--field-rule)', boxShadow: 'var(--shadow)' } },
    },
    MuiDialogTitle: {
      styleOverrides: {
        root: {
          margin: '0 20px',
          padding: '12px 0 6px',
          font: '600 20px var(--serif)',
          borderBottom: '2px solid var(--vermilion)',
        },
      },
    },
    MuiDialogContent: { styleOverrides: { root: { padding: '14px 20px !important' } } },
    MuiDialogActions: { styleOverrides: { root: { padding: '9px 20px', borderTop: '4px double var(--rule)' } } },
    MuiTextField: { defaultProps: { variant: 'standard', size: 'small', slotProps: { inputLabel: { shrink: true } } } },
    MuiFormControl: { defaultProps: { variant: 'standard' } },
    MuiInputLabel: {
      defaultProps: { shrink: true },
      styleOverrides: {
        root: {
          transform: 'none',
          fontSize: 12.5,
          lineHeight: 1.4,
          color: 'var(--faded)',
          '&.Mui-focused, &.Mui-error': { color: 'var(--faded)' },
        },
        asterisk: { display: 'none' },
      },
    },
    MuiInputBase: {
      styleOverrides: {
        root: { fontSize: 15, lineHeight: 1.35 },
        input: { padding: '4px 0', height: 'auto', '&::placeholder': { color: 'var(--faded)', opacity: 1 } },
      },
    },
    MuiInput: { styleOverrides: { root: { 'label + &': { marginTop: 16 }, minHeight: 29, ...ruledLine } } },
    MuiNativeSelect: {
      styleOverrides: { select: { '&:focus': { background: 'none' }, '& option': { background: 'var(--card)' } } },
    },
    MuiFormHelperText: {
      styleOverrides: { root: { marginTop: 2, fontSize: 12.5, lineHeight: 1.35, color: 'var(--faded)' } },
    },
    MuiCheckbox: {
      defaultProps: { size: 'small' },
      styleOverrides: { root: { padding: 4, color: 'var(--field-rule)' } },
    },
    MuiRadio: { defaultProps: { size: 'small' }, styleOverrides: { root: { padding: 4, color: 'var(--field-rule)' } } },
    MuiFormControlLabel: {
      styleOverrides: { root: { marginLeft: -6, marginRight: 10 }, label: { fontSize: 14 } },
    },
    MuiChip: {
      defaultProps: { size: 'small' },
      styleOverrides: { root: { borderRadius: 3, background: 'var(--page)', border: '1px solid var(--rule)' } },
    },
    MuiTooltip: {
      defaultProps: { enterDelay: 400, arrow: false },
      styleOverrides: { tooltip: { background: 'var(--ink)', color: 'var(--page)', fontSize: 12.5 } },
    },
    MuiTableCell: {
      styleOverrides: {
        root: {
          padding: '5px 10px',
          fontSize: 14,
          lineHeight: 1.4,
          verticalAlign: 'top',
          borderBottom: '1px solid var(--rule)',
          color: 'var(--ink)',
        },
        head: { fontSize: 12.5, fontWeight: 600, color: 'var(--faded)', borderBottom: '1px solid var(--field-rule)' },
      },
    },
    MuiLinearProgress: {
      styleOverrides: { root: { height: 6, borderRadius: 3, background: 'var(--rule)' } },
    },
    MuiBreadcrumbs: { styleOverrides: { ol: { flexWrap: 'nowrap' }, separator: { margin: '0 6px' } } },
    MuiAutocomplete: {
      defaultProps: { size: 'small' },
      styleOverrides: {
        root: { width: '100%' },
        paper: { border: '1px solid var(--field-rule)', boxShadow: 'var(--shadow)' },
        option: { fontSize: 14, minHeight: 30 },
        listbox: { padding: 4 },
        noOptions: { fontSize: 14 },
      },
    },
    MuiAlert: {
      defaultProps: { variant: 'outlined' },
      styleOverrides: {
        root: {
          padding: '4px 12px',
          fontSize: 14,
          color: 'var(--ink)',
          background: 'var(--card)',
          // Where there is no room beside the words, the act stands below them.
          flexWrap: 'wrap',
        },
        message: { flex: '1 1 240px' },
      },
    },
    MuiSnackbarContent: {
      styleOverrides: {
        root: {
          background: 'var(--ink)',
          color: 'var(--page)',
          fontSize: 14,
          boxShadow: 'var(--shadow)',
          padding: '4px 16px',
        },
        action: { '& .MuiButton-root': { color: 'inherit', fontWeight: 600, textDecoration: 'underline' } },
      },
    },
  },
});
