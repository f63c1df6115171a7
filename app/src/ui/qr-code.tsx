import qrcode from 'qrcode-generator';
import { useMemo } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';

interface QrCodeProps {
  readonly text: string;
  /** What is said of it to who cannot see it. */
  readonly label: string;
}

/** Light around a code, in its squares (ISO/IEC 18004, 6.3.8). */
const QUIET = 4;
const SIDE = 240;

/** A text for the camera of a phone: dark on light by night too, since cameras do not read it the other way round. */
export function QrCode({ text, label }: QrCodeProps) {
  const { path, count } = useMemo(() => squares(text), [text]);
  return (
    <View role="img" aria-label={label} style={styles.paper}>
      <Svg width={SIDE} height={SIDE} viewBox={`${-QUIET} ${-QUIET} ${count + 2 * QUIET} ${count + 2 * QUIET}`}>
        <Path d={path} fill="#000" />
      </Svg>
    </View>
  );
}

function squares(text: string): { path: string; count: number } {
  // Mended where up to 15 % of it cannot be seen; as large as the text asks for.
  const code = qrcode(0, 'M');
  code.addData(text);
  code.make();
  const count = code.getModuleCount();
  const dark = Array.from({ length: count * count }, (_, i) => [Math.floor(i / count), i % count] as const).filter(
    ([row, column]) => code.isDark(row, column),
  );
  return { path: dark.map(([row, column]) => `M${column} ${row}h1v1h-1z`).join(''), count };
}

const styles = StyleSheet.create({
  paper: { backgroundColor: '#fff', alignSelf: 'center' },
});
