import { useCallback } from 'react';

import { putOnStrips } from '@old-echo/core/carry/put';
import { readAddress } from '@old-echo/core/desk/address';
import type { Value } from '@old-echo/core/desk/setting';
import { withSettings } from '@old-echo/core/desk/state';
import { capital } from '@old-echo/core/desk/wording';

import type { DeskNow } from '../../live/use-desk';
import { useMoveSettingsMutation } from '../../store/api';
import { useStarting } from './use-starting';

type Move = (address: string, value: Value, done: boolean, from: Value) => void;

/** A move that loads a processor lets it start from the preset that people chose for its kind. */
export function useLoading({ desk, profile, state }: DeskNow, strip: string, move: Move): Move {
  const starting = useStarting();
  const [send] = useMoveSettingsMutation();
  return useCallback(
    (address, value, done, from) => {
      move(address, value, done, from);
      const key = readAddress(address)?.key ?? '';
      const start = /^inserts\/\d+\/kind$/.test(key) ? starting.processor(capital(String(value))) : undefined;
      if (!start) return;
      void start.whole().then((source) => {
        if (!source) return;
        const loaded = withSettings(state, { [address]: value });
        const options = { sections: new Set(['inserts']), withPatch: false };
        void send({ desk: desk.id, settings: putOnStrips(source, profile, loaded, [strip], options).settings });
      });
    },
    [move, starting, send, desk.id, profile, state, strip],
  );
}
