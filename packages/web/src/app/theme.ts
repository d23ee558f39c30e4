import { createTheme, type Theme } from '@mui/material/styles';
import { mono, sans, tokens, type Scheme } from './tokens.ts';

/** The application's own look for every MUI component: hairlines for shadows, 3 px corners, small type. */
export function themeOf(scheme: Scheme): Theme {
  const t = tokens[scheme];
  return createTheme({
    palette: {
      mode: scheme,
      primary: { main: t.verdigris, contrastText: t.onAccent },
      warning: { main: t.ochre },
      error: { main: t.madder },
      text: { primary: t.ink, secondary: t.ink2, disabled: t.ink3 },
      background: { default: t.paper, paper: t.sheet },
      divider: t.line,
    },
    shape: { borderRadius: 3 },
    shadows: Array(25).fill('none') as Theme['shadows'],
    typography: {
      fontFamily: sans,
      fontSize: 13,
      htmlFontSize: 16,
      body1: { fontSize: 13 },
      body2: { fontSize: 12 },
      button: { textTransform: 'none', fontWeight: 600, fontSize: 13 },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          ':root': Object.fromEntries([
            ...Object.entries(t).map(([k, v]) => [`--${k}`, v]),
            ['--sans', sans],
            ['--mono', mono],
          ]),
          html: { height: '100%' },
          body: { height: '100%', background: t.paper, color: t.ink, fontSize: 13, lineHeight: 1.4 },
          '#root': { height: '100%' },
          '::selection': { background: t.verdigrisGround },
          ':focus-visible': { outline: `2px solid ${t.verdigris}`, outlineOffset: 2 },
          '.figure': { fontFamily: mono, fontVariantNumeric: 'tabular-nums', fontSize: 12 },
          '.label': {
            fontFamily: sans,
            fontStretch: '80%',
            fontWeight: 700,
            letterSpacing: '0.04em',
            textTransform: 'uppercase',
            fontSize: 11,
          },
          '@media (prefers-reduced-motion: reduce)': {
            '*': { transition: 'none !important', animation: 'none !important' },
          },
        },
      },
      MuiButton: {
        defaultProps: { disableElevation: true, size: 'small' },
        styleOverrides: {
          root: { padding: '7px 14px', minHeight: 36 },
          outlined: { borderColor: t.line, color: t.ink, background: t.sheet },
        },
      },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiPaper: {
        defaultProps: { elevation: 0 },
        styleOverrides: { root: { backgroundImage: 'none', border: `1px solid ${t.line}` } },
      },
      MuiAppBar: { styleOverrides: { root: { border: 0 } } },
      MuiTooltip: { styleOverrides: { tooltip: { background: t.ink, color: t.sheet, fontSize: 12, maxWidth: 320 } } },
      MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { fontFamily: mono, fontSize: 12.5, background: t.sheet },
          input: { padding: '6px 8px' },
          notchedOutline: { borderColor: t.line },
        },
      },
      MuiSelect: { styleOverrides: { select: { padding: '6px 8px', fontFamily: sans } } },
      MuiTableCell: {
        styleOverrides: {
          root: { borderColor: t.line2, padding: '6px 8px', fontSize: 12.5 },
          head: { fontWeight: 600, color: t.ink, borderColor: t.ink },
        },
      },
      MuiDialog: { styleOverrides: { paper: { background: t.sheet } } },
      MuiLinearProgress: { styleOverrides: { root: { height: 4, background: t.line2 } } },
    },
  });
}
