import { Button, Checkbox, type CSSVariablesResolver, createTheme, type MantineColorsTuple } from '@mantine/core';

const cool: MantineColorsTuple = [
  '#e3eeee',
  '#cfe2e3',
  '#a8cdd0',
  '#8fc2c6',
  '#74bcc4',
  '#4a98a1',
  '#2f7f89',
  '#26737d',
  '#1d6a74',
  '#15525a',
];

/** Mantine's neutral shades, warmed to paper and ash. */
const gray: MantineColorsTuple = [
  '#faf8f3',
  '#f6f3ec',
  '#ece5d8',
  '#e3dccf',
  '#cfc6b6',
  '#a89e90',
  '#857b6e',
  '#6b6358',
  '#3b352f',
  '#23201c',
];
const dark: MantineColorsTuple = [
  '#ece5d9',
  '#b3a999',
  '#a89e90',
  '#6b6358',
  '#4a433a',
  '#332e28',
  '#262320',
  '#181613',
  '#141210',
  '#0f0e0c',
];

export const theme = createTheme({
  fontFamily: '"Atkinson Hyperlegible Next Variable", "Source Sans 3", system-ui, sans-serif',
  fontFamilyMonospace: 'var(--monospace)',
  colors: { cool, gray, dark },
  primaryColor: 'cool',
  primaryShade: { light: 8, dark: 4 },
  autoContrast: true,
  defaultRadius: 5,
  cursorType: 'pointer',
  components: {
    Checkbox: Checkbox.extend({ vars: () => ({ root: { '--checkbox-icon-color': 'var(--on-cool)' } }) }),
    // The filled button is dark on light paper and light on dark: its text follows the scheme, not the shade of one of them.
    Button: Button.extend({
      vars: (_theme, { variant = 'filled' }) => ({ root: variant === 'filled' ? { '--button-color': 'var(--on-cool)' } : {} }),
    }),
  },
  fontSizes: { xs: '11.5px', sm: '13px', md: '13.5px', lg: '15px', xl: '18px' },
});

const surfaces = {
  '--mantine-color-body': 'var(--paper)',
  '--mantine-color-text': 'var(--ink)',
  '--mantine-color-dimmed': 'var(--ink-soft)',
  '--mantine-color-placeholder': 'var(--ink-faint)',
  '--mantine-color-default': 'var(--card)',
  '--mantine-color-default-color': 'var(--ink)',
  '--mantine-color-default-border': 'var(--line-strong)',
  '--mantine-color-default-hover': 'var(--cool-wash)',
  '--mantine-color-anchor': 'var(--cool)',
  '--mantine-color-error': 'var(--hot)',
  '--input-bd': 'var(--line-strong)',
};

/** Mantine's own surfaces take the product's tokens, so that both schemes are written once. */
export const cssVariables: CSSVariablesResolver = () => ({ variables: {}, light: surfaces, dark: surfaces });
