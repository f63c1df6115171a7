import dayjs from 'dayjs';
import { useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';

import type { ProductionView } from '@old-echo/core/contracts/production';
import type { SceneFilter } from '@old-echo/core/contracts/scene';
import { displayName } from '@old-echo/core/desk/state';

import { StripSheet } from '../components/strip-picker-sheet';
import { filtered } from '../store/scene-list-slice';
import { useAppDispatch } from '../store/store';
import { useLiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { Field } from '../ui/field';
import { SearchField } from '../ui/search-field';
import { SPACE } from '../ui/tokens';

const TIMES = [
  ['Today', 0],
  ['Last 7 days', 6],
  ['Last 30 days', 29],
] as const;

/** The start of the day so many days ago, or of a day written as 2026-11-25; undefined where it is none. */
const dayFrom = (days: number): string => dayjs().startOf('day').subtract(days, 'day').toISOString();
function dayNamed(text: string): dayjs.Dayjs | undefined {
  const day = dayjs(text);
  return /^\d{4}-\d\d-\d\d$/.test(text) && day.isValid() && day.format('YYYY-MM-DD') === text ? day : undefined;
}

/** Search and filters of the history: words, milestones, tags, time, and what touched a strip. */
export function Filters({ production, filter }: { production: ProductionView; filter: SceneFilter }) {
  const dispatch = useAppDispatch();
  const now = useLiveDesk();
  const [choosing, setChoosing] = useState(false);
  const [dates, setDates] = useState<{ from: string; to: string } | null>(null);
  const set = (change: SceneFilter) => dispatch(filtered(change));
  const strip = filter.strip;
  const strips = now && now.desk.id === production.deskId ? now : undefined;
  const asked = (typed: { from: string; to: string }) => {
    setDates(typed);
    set({ from: dayNamed(typed.from)?.toISOString(), until: dayNamed(typed.to)?.add(1, 'day').toISOString() });
  };
  return (
    <View style={styles.filters}>
      <SearchField
        autoFocus
        placeholder="Search names, notes, tags and strips"
        value={filter.search ?? ''}
        onChange={(search) => set({ search })}
      />
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={styles.chips}>
        <Chip
          toggle
          title="Milestones"
          chosen={filter.milestone === true}
          onPress={() => set({ milestone: !filter.milestone })}
        />
        {strips ? (
          <Chip
            toggle
            title={strip ? `Changes ${displayName(strips.profile, strips.state, strip)}` : 'Changes a strip'}
            chosen={strip !== undefined}
            onPress={() => (strip ? set({ strip: undefined }) : setChoosing(true))}
          />
        ) : null}
        {TIMES.map(([title, days]) => {
          const from = dayFrom(days);
          const chosen = dates === null && filter.from === from;
          return (
            <Chip
              key={title}
              toggle
              title={title}
              chosen={chosen}
              onPress={() => {
                setDates(null);
                set({ from: chosen ? undefined : from, until: undefined });
              }}
            />
          );
        })}
        <Chip
          toggle
          title="From … to …"
          chosen={dates !== null}
          onPress={() => {
            setDates(dates ? null : { from: '', to: '' });
            set({ from: undefined, until: undefined });
          }}
        />
        {production.tags.map((tag) => (
          <Chip
            key={tag}
            toggle
            title={tag}
            chosen={filter.tag === tag}
            onPress={() => set({ tag: filter.tag === tag ? undefined : tag })}
          />
        ))}
      </ScrollView>
      {dates ? (
        <>
          <View style={styles.dates}>
            <View style={styles.fill}>
              <Field
                label="From the day"
                placeholder="2026-11-01"
                value={dates.from}
                onChangeText={(from) => asked({ ...dates, from })}
              />
            </View>
            <View style={styles.fill}>
              <Field
                label="To the day"
                placeholder="2026-11-30"
                value={dates.to}
                onChangeText={(to) => asked({ ...dates, to })}
              />
            </View>
          </View>
          {[dates.from, dates.to].some((day) => day !== '' && !dayNamed(day)) ? (
            <AppText kind="small" tone="care">
              Write dates as year-month-day: 2026-11-25.
            </AppText>
          ) : null}
        </>
      ) : null}
      {strips ? (
        <StripSheet
          title="Scenes that changed"
          now={strips}
          open={choosing}
          onClose={() => setChoosing(false)}
          onChoose={(chosen) => set({ strip: chosen })}
        />
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  filters: { paddingHorizontal: SPACE.l, paddingBottom: SPACE.s, gap: SPACE.s },
  chips: { gap: SPACE.s },
  dates: { flexDirection: 'row', gap: SPACE.s },
  fill: { flex: 1 },
});
