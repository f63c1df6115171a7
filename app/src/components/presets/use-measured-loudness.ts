import { skipToken } from '@reduxjs/toolkit/query';

import type { SettingsByAddress } from '@old-echo/core/desk/state';

import { useStemsQuery } from '../../store/sound-api';
import type { LiveDesk } from '../../store/use-live-desk';
import { mainOf } from '../audition/use-audition';
import { useHeardProduction } from '../audition/use-desk-audition';
import { useFinishedRender } from '../audition/use-finished-render';

/** How loud a strip is alone at the main output with settings over what the desk holds, in LUFS; null where nothing can be told. */
export type MeasureLoudness = (settings: SettingsByAddress, isWanted: () => boolean) => Promise<number | null>;

/** Measures a strip on its stem of the song that the desk works on. Undefined where it has none that sounds. */
export function useMeasuredLoudness(now: LiveDesk, strip: string): MeasureLoudness | undefined {
  const { desk, profile } = now;
  const productionId = useHeardProduction(now);
  const { data: stems = [] } = useStemsQuery(productionId ?? skipToken);
  const render = useFinishedRender();
  if (!productionId || !stems.some((stem) => stem.strip === strip && !stem.silent)) return undefined;
  const request = {
    productionId,
    deskId: desk.id,
    output: mainOf(profile),
    solo: strip,
    law: 'constant power',
  } as const;
  return async (settings, isWanted) => {
    try {
      return (await render({ ...request, settings }, isWanted)).measured?.loudness.integrated ?? null;
    } catch {
      // Presets are tried all the same, as loud as they are.
      return null;
    }
  };
}
