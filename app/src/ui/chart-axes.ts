import { FONT, type Look, SIZE } from './tokens';

/** How the axes of every bar chart look; nothing in them is pressed or scrolled. */
export const chartAxes = (look: Look) =>
  ({
    yAxisTextStyle: { color: look.second, fontFamily: FONT.value, fontSize: SIZE.small - 2 },
    yAxisColor: look.line,
    xAxisColor: look.line,
    rulesColor: look.line,
    disableScroll: true,
    disablePress: true,
  }) as const;
