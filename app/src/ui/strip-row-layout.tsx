import { memo, type ReactNode } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { NumberSpec } from '@old-echo/core/desk/setting';
import { formatValue } from '@old-echo/core/phrases/format-value';

import { AppText } from './app-text';
import { DragHandle } from './drag';
import { useFocusTarget } from './focus-registry';
import { type Modifiers, modifiersOf } from './modifiers';
import { NameLines } from './name-lines';
import { StripColour } from './strip-colour';
import { SweepHandle } from './sweep-handle';
import { useLook } from './theme';
import { ROW, SPACE } from './tokens';
import { TypedValue } from './typed-value';
import { usePressOrHold } from './use-press-or-hold';
import { ValueSlider } from './value-slider';

interface StripLineProps {
  readonly strip: string;
  readonly number: string;
  readonly name: string;
  /** What its desk calls the colour of the strip; null where nobody has given it any. */
  readonly colour?: string | null | undefined;
  /** What else there is to say: other drift, linked, safe. */
  readonly under?: string;
  readonly level?:
    { readonly spec: NumberSpec; readonly value: number; readonly echo?: number | undefined } | undefined;
  readonly muted?: boolean;
  readonly chosen?: boolean;
  /** Picked out among others, with a long press. */
  readonly picked?: boolean;
  /** Stands out for a moment. */
  readonly marked?: boolean;
  readonly onPick?: (strip: string) => void;
  readonly onOpen?: (strip: string, modifiers: Modifiers) => void;
  readonly onMove?: (strip: string, value: number, done: boolean) => void;
  readonly side?: ReactNode;
  /** Whether it can be dragged by its number onto another. */
  readonly grip?: boolean;
  /** While some are picked out, going over numbers picks more. */
  readonly sweep?: { readonly begin: (strip: string) => void; readonly reach: (rows: number) => void } | undefined;
}

/** A strip in one row: number, name, level, value. A tap opens it; its dot moves its fader. */
export const StripRowLayout = memo(function StripLine(props: StripLineProps) {
  const {
    strip,
    number,
    name,
    colour,
    under,
    level,
    muted,
    chosen,
    picked,
    marked,
    onPick,
    onOpen,
    onMove,
    side,
    grip,
    sweep,
  } = props;
  const look = useLook();
  const target = useFocusTarget('strip', strip);
  const press = usePressOrHold({
    onPress: ({ nativeEvent }) => onOpen?.(strip, modifiersOf(nativeEvent)),
    onHold: onPick && (() => onPick(strip)),
  });
  const moved = level?.echo !== undefined && level.echo !== level.value;
  const label = (
    <AppText kind="value" tone={picked ? 'ink' : 'second'} style={styles.number}>
      {picked ? '✓' : number}
    </AppText>
  );
  return (
    <Pressable
      {...press}
      role="group"
      aria-label={name}
      tabIndex={-1}
      testID={`strip-${strip}`}
      style={[
        styles.row,
        { borderColor: look.line },
        (chosen || picked || marked) && { backgroundColor: look.wash },
        marked && { borderLeftWidth: 4, borderLeftColor: look.done, paddingLeft: SPACE.l - 4 },
      ]}
    >
      {/* What opens it is beside what moves it, not around it; a touch anywhere else in the row opens it as well. */}
      <Pressable
        {...press}
        role="button"
        aria-label={`${name}${picked ? ', selected' : ''}${muted ? ', muted' : ''}${under ? `, ${under}` : ''}`}
        ref={target}
        style={styles.names}
      >
        {sweep ? (
          <SweepHandle onBegin={() => sweep.begin(strip)} onReach={sweep.reach}>
            {label}
          </SweepHandle>
        ) : grip ? (
          <DragHandle id={strip}>{label}</DragHandle>
        ) : (
          label
        )}
        <StripColour name={colour} />
        <NameLines name={name} under={under} />
      </Pressable>
      {level ? (
        <>
          <View style={styles.line}>
            <ValueSlider
              spec={level.spec}
              value={level.value}
              echo={level.echo}
              muted={muted === true}
              name={`${name} fader`}
              onMove={onMove ? (value, done) => onMove(strip, value, done) : undefined}
            />
          </View>
          <TypedValue
            spec={level.spec}
            value={level.value}
            name={`${name} fader`}
            onMove={onMove && ((value, done) => onMove(strip, Number(value), done))}
          >
            <AppText kind="value">{formatValue(level.spec, level.value, false)}</AppText>
            {moved ? (
              <AppText kind="value" tone="second">
                was {formatValue(level.spec, level.echo, false)}
              </AppText>
            ) : null}
          </TypedValue>
        </>
      ) : null}
      {side}
    </Pressable>
  );
});

/** The width of a strip’s number. */
const NUMBER = 32;

const styles = StyleSheet.create({
  row: { minHeight: ROW, flexDirection: 'row', alignItems: 'center', paddingHorizontal: SPACE.l, borderBottomWidth: 1 },
  number: { width: NUMBER, userSelect: 'none' },
  line: { flex: 1.3, minWidth: 0, marginLeft: SPACE.s },
  names: {
    flexGrow: 1,
    flexShrink: 1,
    flexBasis: NUMBER,
    minWidth: 0,
    minHeight: ROW,
    flexDirection: 'row',
    alignItems: 'center',
  },
});
