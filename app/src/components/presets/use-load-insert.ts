import { useCallback } from 'react';

import { readAddress, sectionOf } from '@old-echo/core/desk/address';
import { isManual } from '@old-echo/core/desk/manual';
import { defaultValue, type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { sameValue, type Value } from '@old-echo/core/desk/setting';
import { type StripState, withSettings } from '@old-echo/core/desk/state';
import { putOnStrips } from '@old-echo/core/library/apply-preset';
import { capitalise, sectionName } from '@old-echo/core/phrases/format-value';

import { faultLine } from '../../store/api';
import { useMoveSettingsMutation } from '../../store/desk-api';
import { noticed } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import type { LiveDesk } from '../../store/use-live-desk';
import { useDefaultPresets } from './use-default-preset';

type Move = (address: string, value: Value, done: boolean, from: Value) => void;

/** Whether nobody has touched a processor of a strip: all of it is as on an untouched desk. */
const isFresh = (profile: Profile, strip: string, section: string, settings: StripState): boolean =>
  Object.entries(stripFamily(profile, strip)?.settings ?? {}).every(
    ([key, spec]) => sectionOf(key) !== section || sameValue(spec, settings[key], defaultValue(profile, strip, spec)),
  );

/** A move that loads an insert, or switches on a processor that nobody has touched yet, lets it start from the preset that people chose for its kind. */
export function useLoadInsert({ desk, profile, state }: LiveDesk, strip: string, move: Move): Move {
  const starting = useDefaultPresets();
  const dispatch = useAppDispatch();
  const [send] = useMoveSettingsMutation();
  return useCallback(
    (address, value, done, from) => {
      move(address, value, done, from);
      // Where a control is turned by hand, it is only said where it stands.
      if (isManual(profile, strip)) return;
      const key = readAddress(address)?.key ?? '';
      const section = sectionOf(key);
      const gist = /^inserts\/\d+\/kind$/.test(key)
        ? capitalise(String(value))
        : value === true && key === `${section}/on` && isFresh(profile, strip, section, state[strip] ?? {})
          ? sectionName(section)
          : undefined;
      const start = gist === undefined || !done ? undefined : starting.processor(gist);
      if (!start) return;
      void start.whole().then((source) => {
        if (!source) return;
        const loaded = withSettings(state, { [address]: value });
        const options = { sections: new Set([section]), withPatch: false };
        const { settings } = putOnStrips(source, profile, loaded, [strip], options);
        void send({ desk: desk.id, settings }).then(({ error }) => error && dispatch(noticed(faultLine(error))));
      });
    },
    [move, starting, send, dispatch, desk.id, profile, state, strip],
  );
}
