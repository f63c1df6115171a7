import { configureFonts, MD3DarkTheme, MD3LightTheme, type MD3Theme, useTheme } from 'react-native-paper';

import { CORNER, DAY, FONT, type Look, NIGHT } from './tokens';

type EchoTheme = MD3Theme & { look: Look };

const fonts = configureFonts({ config: { fontFamily: FONT.text } });

function themeOf(look: Look): EchoTheme {
  const base = look.dark ? MD3DarkTheme : MD3LightTheme;
  return {
    ...base,
    look,
    roundness: CORNER.small / 4,
    fonts: { ...fonts, labelLarge: { ...fonts.labelLarge, fontFamily: FONT.strong } },
    colors: {
      ...base.colors,
      primary: look.ink,
      onPrimary: look.paper,
      primaryContainer: look.wash,
      onPrimaryContainer: look.ink,
      secondary: look.second,
      secondaryContainer: look.wash,
      onSecondaryContainer: look.ink,
      background: look.paper,
      onBackground: look.ink,
      surface: look.card,
      onSurface: look.ink,
      surfaceVariant: look.wash,
      onSurfaceVariant: look.second,
      outline: look.second,
      outlineVariant: look.line,
      error: look.stop,
      inverseSurface: look.ink,
      inverseOnSurface: look.paper,
      inversePrimary: look.paper,
      surfaceDisabled: look.wash,
      onSurfaceDisabled: look.second,
      elevation: { ...base.colors.elevation, level1: look.card, level2: look.card, level3: look.card },
    },
  };
}

export const dayTheme = themeOf(DAY);
export const nightTheme = themeOf(NIGHT);

/** The colours of the theme in use. */
export const useLook = (): Look => useTheme<EchoTheme>().look;
