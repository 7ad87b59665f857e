import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/atkinson-hyperlegible-mono'
import { createTheme, type Theme } from '@mui/material/styles'

/** Colours of the drawings. Only suspicion is warm. */
export interface Inks {
  thread: string
  cord: string
  baseline: string
  present: string
  after: string
  difference: string
  grid: string
  label: string
  cursor: string
  lane: string
  ember: [string, string, string]
}

declare module '@mui/material/styles' {
  interface Theme {
    inks: Inks
  }
  interface ThemeOptions {
    inks?: Inks
  }
}

const FONT = '"Atkinson Hyperlegible Next Variable", sans-serif'
export const MONO = '"Atkinson Hyperlegible Mono Variable", monospace'

const LIGHT: Inks = {
  thread: '#24506e',
  cord: '#8b9aa6',
  baseline: '#7d94a5',
  present: '#0b4f86',
  after: '#0b4f86',
  difference: '#1d3a50',
  grid: '#d5dde3',
  label: '#33424e',
  cursor: '#16293a',
  lane: '#f6f8fa',
  ember: ['#f3d9c4', '#ef8a4a', '#b8330a'],
}

const DARK: Inks = {
  thread: '#8fbcd9',
  cord: '#65788a',
  baseline: '#71889b',
  present: '#8cc8f5',
  after: '#8cc8f5',
  difference: '#c4d8e6',
  grid: '#2a3a47',
  label: '#b9c7d2',
  cursor: '#e8f0f6',
  lane: '#131d26',
  ember: ['#4a2a1a', '#d96a2b', '#ffb27a'],
}

/** Cold greys and blues at rest; targets of 44 px; tabular figures in tables. */
export function makeTheme(mode: 'light' | 'dark'): Theme {
  const dark = mode === 'dark'
  return createTheme({
    inks: dark ? DARK : LIGHT,
    palette: {
      mode,
      primary: { main: dark ? '#9cc9ea' : '#17486b', contrastText: dark ? '#0c1620' : '#ffffff' },
      background: dark ? { default: '#0d151c', paper: '#131d26' } : { default: '#eef2f5', paper: '#ffffff' },
      text: dark ? { primary: '#eef4f8', secondary: '#b9c7d2' } : { primary: '#101b24', secondary: '#3c4a55' },
      divider: dark ? '#2a3a47' : '#cfd8df',
      success: { main: dark ? '#8fd0a8' : '#1c5c38' },
      warning: { main: dark ? '#e6cf8a' : '#5e4a00' },
      error: { main: dark ? '#f2b0c0' : '#8a1538' },
    },
    shape: { borderRadius: 6 },
    typography: {
      fontFamily: FONT,
      h1: { fontSize: '1.6rem', fontWeight: 650 },
      h2: { fontSize: '1.15rem', fontWeight: 650 },
      h3: { fontSize: '1rem', fontWeight: 650 },
      button: { textTransform: 'none', fontWeight: 600 },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          // On paper: what was found, black on white, without what is there to be pressed.
          '@media print': {
            'header, button:not(.on-paper), form, .not-on-paper, [role=tablist], [role=group] > button': {
              display: 'none !important',
            },
            '*': { color: '#000 !important', background: 'none !important' },
            'svg text': { fill: '#000 !important' },
            section: { breakInside: 'avoid' },
            'body.print-one section:not(.printed)': { display: 'none' },
            'section.printed': { breakInside: 'auto' },
          },
        },
      },
      MuiButton: { styleOverrides: { root: { minHeight: 44 } } },
      MuiIconButton: { styleOverrides: { root: { minWidth: 44, minHeight: 44 } } },
      MuiTableCell: { styleOverrides: { root: { fontVariantNumeric: 'tabular-nums', padding: '8px 12px' } } },
      MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    },
  })
}
