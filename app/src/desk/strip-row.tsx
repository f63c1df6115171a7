import { memo, useCallback } from 'react';

import { type Profile, stripFamily, stripNumber } from '@old-echo/core/desk/profile';
import { isNumberSpec } from '@old-echo/core/desk/setting';
import type { StripState } from '@old-echo/core/desk/state';

import { stripColourName } from '../components/strip-colour-name';
import type { SafeExtent } from '../components/strip-safety';
import { countBySection, stripBadges } from '../components/strip-summary';
import { toggled } from '../store/selection-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { stripDrift } from '../store/use-live-desk';
import { DropTarget } from '../ui/drag';
import type { Modifiers } from '../ui/modifiers';
import { StripRowLayout } from '../ui/strip-row-layout';
import type { Sweep } from './use-sweep';

interface StripRowProps {
  readonly profile: Profile;
  readonly strip: string;
  /** What the desk is meant to hold of it. */
  readonly was: StripState | undefined;
  readonly safe: SafeExtent;
  readonly chosen: boolean;
  readonly onOpen: (strip: string, modifiers: Modifiers) => void;
  readonly sweep?: Sweep;
  /** Undefined while the desk is not linked. */
  readonly onMove: ((address: string, value: number, done: boolean, from: number) => void) | undefined;
}

/** A strip of the desk in one row; drawn anew only when its own settings move. */
export const StripRow = memo(function StripRow(props: StripRowProps) {
  const { profile, strip, was, safe, chosen, onOpen, sweep, onMove } = props;
  const now = useAppSelector((root) => root.live.state?.[strip]);
  const spec = stripFamily(profile, strip)?.settings['fader/level'];
  const level = Number(now?.['fader/level']);
  const move = useCallback(
    (_: string, value: number, done: boolean) => onMove?.(`${strip}/fader/level`, value, done, level),
    [onMove, strip, level],
  );
  const picked = useAppSelector((root) => root.selection.strips.includes(strip));
  const selecting = useAppSelector((root) => root.selection.strips.length > 0);
  const dispatch = useAppDispatch();
  const pick = useCallback((name: string) => void dispatch(toggled(name)), [dispatch]);
  // For a moment after a switch it shows what that changed, in the place of its drift.
  const switched = useAppSelector((root) => root.lastSwitch.before[strip]);
  const then = switched ?? was;
  const changes = then && now ? stripDrift(profile, strip, { [strip]: then }, { [strip]: now }) : [];
  const before = then?.['fader/level'];
  return (
    <DropTarget id={strip}>
      <StripRowLayout
        strip={strip}
        number={String(stripNumber(strip)).padStart(2, '0')}
        name={String(now?.['label/name'] ?? profile.plainNames[strip] ?? strip)}
        colour={stripColourName(profile, strip, now)}
        under={[countBySection(changes), stripBadges(now, safe)].filter(Boolean).join(' · ')}
        level={
          spec && isNumberSpec(spec) && now
            ? { spec, value: level, echo: typeof before === 'number' ? before : undefined }
            : undefined
        }
        muted={now?.['mute/on'] === true}
        chosen={chosen}
        picked={picked}
        marked={switched !== undefined}
        onPick={pick}
        onOpen={onOpen}
        onMove={onMove ? move : undefined}
        grip
        sweep={selecting ? sweep : undefined}
      />
    </DropTarget>
  );
});
