import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import type { ConversionPreview, NamedMatch } from '@old-echo/core/contracts/conversion';
import { familyOf } from '@old-echo/core/desk/address';
import type { Profile } from '@old-echo/core/desk/profile';
import type { ReportLine } from '@old-echo/core/phrases/conversion-report';
import { plural } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { DragHandle, DragSpace, DropTarget } from '../ui/drag';
import { SectionHeading } from '../ui/layout';
import { Option } from '../ui/option';
import { Sheet } from '../ui/sheet';
import { useLook } from '../ui/theme';
import { ROW, SPACE, TOUCH } from '../ui/tokens';

const WHY: Readonly<Record<NamedMatch['why'], string>> = {
  part: 'same part',
  name: 'similar name',
  free: 'free strip',
  hand: 'your choice',
  none: 'no strip left',
};

interface MatchesProps {
  readonly preview: ConversionPreview;
  /** Of the desk it goes to. */
  readonly profile: Profile;
  readonly onHand: (from: string, to: string | null) => void;
}

/** Who goes where: each strip with its place, put right by dragging one onto the place of another, or from a list. */
export function StripMatches({ preview, profile, onHand }: MatchesProps) {
  const [asking, setAsking] = useState<string | null>(null);
  const [open, setOpen] = useState<string | null>(null);
  const of = (from: string) => preview.matches.find((match) => match.from === from);
  const asked = of(asking ?? '');
  const places = asked ? (profile.families.find(({ id }) => id === familyOf(asked.from))?.strips ?? []) : [];
  const holder = (strip: string) => preview.matches.find((match) => match.to === strip);
  return (
    <DragSpace
      nameOf={(from) => of(from)?.fromName ?? from}
      onDrop={(from, onto) => {
        const to = of(onto.replace('to ', ''))?.to ?? null;
        if (to !== null && familyOf(from) === familyOf(to)) onHand(from, to);
      }}
    >
      <SectionHeading title="Strip matches · drag a name to another strip" />
      {preview.matches.map((match) => (
        <Row
          key={match.from}
          match={match}
          plain={match.to === null ? '' : (profile.plainNames[match.to] ?? match.to)}
          lines={match.to === null ? [] : preview.lines.filter(({ strip }) => strip === match.to)}
          open={open === match.from}
          onOpen={() => setOpen(open === match.from ? null : match.from)}
          onAsk={() => setAsking(match.from)}
        />
      ))}
      <Sheet
        title={asked ? `${asked.fromName} goes to` : ''}
        open={asked !== undefined}
        onClose={() => setAsking(null)}
      >
        <Option
          title="Leave behind"
          chosen={asked?.to === null}
          onPress={() => {
            onHand(asking ?? '', null);
            setAsking(null);
          }}
        />
        {places.map((strip) => (
          <Option
            key={strip}
            title={profile.plainNames[strip] ?? strip}
            {...(holder(strip) ? { under: `${holder(strip)?.fromName} would be matched again` } : {})}
            chosen={asked?.to === strip}
            onPress={() => {
              onHand(asking ?? '', strip);
              setAsking(null);
            }}
          />
        ))}
      </Sheet>
    </DragSpace>
  );
}

interface RowProps {
  readonly match: NamedMatch;
  readonly plain: string;
  readonly lines: readonly ReportLine[];
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onAsk: () => void;
}

function Row({ match, plain, lines, open, onOpen, onAsk }: RowProps) {
  const look = useLook();
  const { from, fromName, to, why } = match;
  return (
    <View style={[styles.row, { borderColor: look.line }]} testID={`match-${from}`}>
      <View style={styles.line}>
        <View style={styles.fill}>
          <DragHandle id={from}>
            <AppText kind="strong" numberOfLines={1}>
              {fromName}
            </AppText>
            <AppText kind="small" tone={to === null ? 'care' : 'second'}>
              {to === null && why === 'hand' ? 'left behind, your choice' : WHY[why]}
            </AppText>
          </DragHandle>
        </View>
        <DropTarget id={`to ${from}`}>
          <Pressable
            role="button"
            aria-label={`${fromName} goes to ${plain || 'nothing'}`}
            onPress={onAsk}
            style={styles.to}
          >
            <AppText tone={to === null ? 'care' : 'ink'}>{plain || 'nothing'} ›</AppText>
          </Pressable>
        </DropTarget>
      </View>
      {lines.length > 0 ? (
        <Pressable role="button" aria-expanded={open} onPress={onOpen} style={styles.more}>
          <AppText kind="small" tone="second">
            {open ? '▾' : '▸'} {plural(lines.length, 'setting')} changed or left behind
          </AppText>
        </Pressable>
      ) : null}
      {open
        ? lines.map(({ what, how, why: reason }, i) => (
            <AppText key={i} kind="small" tone="second">
              {what}: {how === 'clamped' ? '' : 'left behind, '}
              {reason}
            </AppText>
          ))
        : null}
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { borderBottomWidth: 1, paddingVertical: SPACE.xs },
  line: { flexDirection: 'row', alignItems: 'center', minHeight: ROW - SPACE.s },
  to: { minHeight: TOUCH, minWidth: 120, alignItems: 'flex-end', justifyContent: 'center' },
  more: { minHeight: 32, justifyContent: 'center' },
});
