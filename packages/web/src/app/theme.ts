import { createTheme, type Theme } from '@mui/material/styles';
import { mono, sans, tokens, type Scheme } from './tokens.ts';

/** The application's own look for every MUI component: hairlines for shadows, 3 px corners, small type. */
export function themeOf(scheme: Scheme): Theme {
  const t = tokens[scheme];
  const notice = (ink: string, ground: string) => ({
    background: ground,
    borderLeft: `3px solid ${ink}`,
    color: t.ink,
  });
  return createTheme({
    palette: {
      mode: scheme,
      primary: { main: t.verdigris, contrastText: t.onAccent },
      warning: { main: t.ochre },
      error: { main: t.madder },
      success: { main: t.verdigris },
      info: { main: t.verdigris },
      text: { primary: t.ink, secondary: t.ink2, disabled: t.ink3 },
      background: { default: t.paper, paper: t.sheet },
      divider: t.line,
      action: { hover: t.verdigrisGround, selected: t.verdigrisGround, focus: t.verdigrisGround },
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
          ':root': {
            ...Object.fromEntries(Object.entries(t).map(([k, v]) => [`--${k}`, v])),
            '--sans': sans,
            '--mono': mono,
          },
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
          '.label.accent': { color: t.verdigris },
          '.quiet': { color: t.ink2, fontWeight: 400 },
          '.question': { fontSize: 18, fontWeight: 650, fontStretch: '92%', letterSpacing: '-0.005em' },
          '.lead': { color: t.ink2 },
          '.foot': { fontSize: 11.5, color: t.ink2 },
          '.foot.unclear': { color: t.madder },
          small: { fontSize: 11.5, color: t.ink2, display: 'block' },
          'h1, h2, p': { margin: 0 },
          a: { color: 'inherit', textDecoration: 'none' },
          '@media (prefers-reduced-motion: reduce)': {
            '*': { transition: 'none !important', animation: 'none !important' },
          },
        },
      },
      MuiButtonBase: {
        defaultProps: { disableRipple: true },
        styleOverrides: {
          root: { font: 'inherit', '&.Mui-focusVisible': { outline: `2px solid ${t.verdigris}`, outlineOffset: 2 } },
        },
      },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: {
          root: {
            padding: '7px 14px',
            minHeight: 36,
            '&.MuiButton-contained.Mui-focusVisible': { outlineColor: t.ink },
          },
          outlined: { borderColor: t.line, color: t.ink, background: t.sheet },
          // a text button stands in a sentence like a word; a hair more than the 24 px that a finger wants, since rounding takes some
          text: {
            padding: '0 2px',
            minWidth: 0,
            minHeight: 25,
            lineHeight: 1.4,
            textAlign: 'left',
            verticalAlign: 'baseline',
            '&:hover': { background: 'none', textDecoration: 'underline' },
            '&.MuiButton-colorInherit': { color: t.ink2, fontWeight: 400 },
            '&.MuiButton-colorInherit:hover': { color: t.ink },
            '&.MuiButton-sizeSmall': { fontSize: 10.5, fontWeight: 400, textDecoration: 'underline' },
            '&.Mui-disabled': { opacity: 0.7 },
          },
          sizeLarge: { minHeight: 56, fontSize: 15, flex: 1 },
        },
      },
      MuiIconButton: { styleOverrides: { root: { padding: 4, fontSize: 18, color: t.ink2, borderRadius: 3 } } },
      MuiToggleButtonGroup: { styleOverrides: { root: { gap: 10 } } },
      MuiToggleButton: {
        styleOverrides: {
          root: {
            border: 0,
            borderRadius: 0,
            padding: '3px 2px',
            minHeight: 25,
            minWidth: 24,
            lineHeight: 1.3,
            fontWeight: 400,
            color: t.ink2,
            borderBottom: '2px solid transparent',
            '&:hover': { background: 'none', color: t.ink },
            '&.Mui-selected, &.Mui-selected:hover': {
              background: 'none',
              color: t.ink,
              fontWeight: 650,
              borderBottomColor: t.verdigris,
            },
          },
        },
      },
      MuiPaper: {
        defaultProps: { elevation: 0 },
        styleOverrides: { root: { backgroundImage: 'none', border: `1px solid ${t.line}` } },
      },
      MuiCard: { styleOverrides: { root: { '&:hover': { borderColor: t.verdigris } } } },
      MuiCardActionArea: {
        styleOverrides: {
          root: {
            height: '100%',
            display: 'flex',
            flexDirection: 'column',
            alignItems: 'stretch',
            justifyContent: 'flex-start',
          },
        },
      },
      MuiAlert: {
        styleOverrides: {
          root: {
            border: 0,
            borderRadius: 0,
            padding: '9px 11px',
            fontSize: 13,
            lineHeight: 1.45,
            '&.MuiAlert-colorWarning': notice(t.ochre, t.ochreGround),
            '&.MuiAlert-colorError': notice(t.madder, t.madderGround),
            '&.MuiAlert-colorSuccess': notice(t.verdigris, t.verdigrisGround),
          },
          // a link amid words is told by more than its colour
          message: { padding: 0, minWidth: 0, '& a': { color: 'inherit', textDecoration: 'underline' } },
          action: { padding: '0 0 0 12px', marginRight: 0 },
        },
      },
      MuiTooltip: {
        styleOverrides: { tooltip: { background: t.ink, color: t.sheet, fontSize: 12, maxWidth: 320 } },
      },
      MuiFormControl: {
        styleOverrides: {
          // a line of a card: what it is at the left, its figure at the right
          root: {
            flexDirection: 'row',
            flexWrap: 'wrap',
            justifyContent: 'space-between',
            alignItems: 'center',
            columnGap: 10,
            width: '100%',
            minHeight: 36,
            borderBottom: `1px solid ${t.line2}`,
          },
        },
      },
      MuiFormLabel: {
        styleOverrides: {
          root: {
            flex: '1 1 0',
            minWidth: 90,
            lineHeight: 1.3,
            color: t.ink,
            fontSize: 13,
            '&.Mui-focused': { color: t.ink },
            '&.Mui-error': { color: t.ink },
          },
        },
      },
      MuiFormHelperText: {
        styleOverrides: { root: { flexBasis: '100%', textAlign: 'right', fontSize: 11, margin: '0 0 4px' } },
      },
      MuiFormControlLabel: { styleOverrides: { root: { margin: 0, gap: 6, minHeight: 25 }, label: { fontSize: 12 } } },
      MuiInput: {
        defaultProps: { disableUnderline: true },
        styleOverrides: {
          root: {
            fontFamily: mono,
            fontSize: 12.5,
            color: t.ink,
            borderBottom: `1px dashed ${t.line}`,
            'label + &': { marginTop: 0 },
            '&.Mui-focused': { borderBottomColor: t.verdigris },
            '&.Mui-error': { borderBottomColor: t.madder, color: t.madder },
            '&:has(select)': { fontFamily: sans },
          },
          input: { padding: '4px 2px', textAlign: 'right', height: 'auto' },
        },
      },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { fontSize: 12, background: t.paper },
          input: { padding: '4px 6px', height: 'auto' },
          notchedOutline: { borderColor: t.line },
        },
      },
      MuiNativeSelect: {
        styleOverrides: {
          select: {
            fontFamily: sans,
            textAlign: 'right',
            textAlignLast: 'right',
            '&&': { paddingRight: 20 },
            '& option': { background: t.sheet, color: t.ink },
          },
          icon: { color: t.ink2, fontSize: 18 },
        },
      },
      MuiCheckbox: { styleOverrides: { root: { padding: 2, '& svg': { fontSize: 18 } } } },
      MuiSlider: {
        styleOverrides: {
          root: { padding: '10px 0', height: 3, '@media (pointer: coarse)': { padding: '16px 0' } },
          thumb: {
            width: 12,
            height: 12,
            '&:hover, &.Mui-focusVisible': { boxShadow: `0 0 0 4px ${t.verdigrisGround}` },
          },
          rail: { background: t.ink3 },
        },
      },
      MuiTableCell: {
        styleOverrides: {
          root: {
            borderColor: t.line2,
            padding: '6px 5px',
            fontSize: 12,
            lineHeight: 1.35,
            '&.figure': { fontFamily: mono, fontVariantNumeric: 'tabular-nums' },
          },
          head: { fontWeight: 600, color: t.ink, borderColor: t.ink, lineHeight: 1.25 },
          sizeSmall: { padding: '3px 6px 3px 0', fontSize: 11.5 },
        },
      },
      MuiTableRow: {
        styleOverrides: {
          root: {
            '&.marked .MuiTableCell-root': { color: t.ochre },
            '&.Mui-selected, &.Mui-selected:hover': { background: t.verdigrisGround },
          },
        },
      },
      MuiList: { styleOverrides: { root: { padding: 0 } } },
      MuiListSubheader: {
        styleOverrides: {
          root: {
            padding: '0 0 4px',
            lineHeight: 1.4,
            background: 'none',
            position: 'static',
            color: t.ink2,
            fontStretch: '80%',
            fontWeight: 700,
            letterSpacing: '0.04em',
            textTransform: 'uppercase',
            fontSize: 11,
          },
        },
      },
      MuiListItemButton: {
        styleOverrides: {
          root: {
            padding: '6px 0',
            borderBottom: `1px solid ${t.line2}`,
            '&:hover': { background: 'none' },
            '&:hover .MuiListItemText-primary': { color: t.verdigris },
          },
        },
      },
      MuiListItemText: {
        styleOverrides: {
          root: { margin: 0, display: 'grid', gridTemplateColumns: '92px 1fr', gap: 8, alignItems: 'baseline' },
          primary: { fontWeight: 700, fontSize: 13, textAlign: 'left' },
          secondary: { fontSize: 12, textAlign: 'left' },
        },
      },
      MuiDialog: { styleOverrides: { paper: { background: t.sheet } } },
      MuiDialogTitle: { styleOverrides: { root: { fontSize: 18, fontWeight: 600 } } },
      MuiDrawer: { styleOverrides: { paper: { width: 380, maxWidth: '100%', padding: 18 } } },
      MuiLinearProgress: { styleOverrides: { root: { height: 4, background: t.line2 } } },
    },
  });
}
