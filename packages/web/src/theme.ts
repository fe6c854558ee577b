import { createTheme, type MantineColorsTuple } from '@mantine/core';

/** The near end's colour in ten steps, for what Mantine wants a primary colour for. */
const near: MantineColorsTuple = [
  '#e6f4f7',
  '#c9e6ed',
  '#98cfdc',
  '#62c4dc',
  '#3a9db6',
  '#1c8099',
  '#00566b',
  '#004c5f',
  '#003f4f',
  '#002f3b',
];

export const theme = createTheme({
  colors: { near },
  primaryColor: 'near',
  primaryShade: { light: 6, dark: 4 },
  fontFamily: "'Atkinson Hyperlegible Next', sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono', monospace",
  defaultRadius: 2,
  respectReducedMotion: true,
  components: {
    // Locking the page's scroll would add a style element without the nonce that the content security policy asks for.
    Modal: { defaultProps: { lockScroll: false, closeButtonProps: { 'aria-label': 'Close' } } },
    Button: { defaultProps: { size: 'md' } },
  },
});
