import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo } from 'react';

import { displayName } from '@old-echo/core/desk/state';
import type { PresetSource } from '@old-echo/core/library/apply-preset';

import { LoadError, Loading } from '../components/loading';
import { NeverHeard } from '../components/never-heard';
import { toApiFault } from '../store/api';
import { useProfileQuery } from '../store/desk-api';
import { usePresetQuery } from '../store/library-api';
import { useLiveDesk } from '../store/use-live-desk';
import { Empty } from '../ui/layout';
import { useShortcuts } from '../ui/use-shortcuts';
import type { PutProps } from './apply-props';
import { ApplyStripSet } from './apply-strip-set';
import { PutDesk } from './apply-to-desk';
import { PutStrips } from './apply-to-strips';

/** Where something lands on the desk: chosen and seen here, then previewed, then restored like anything else. */
export function PutScreen() {
  const { preset: presetId, strip, to } = useLocalSearchParams<{ preset?: string; strip?: string; to?: string }>();
  const router = useRouter();
  const now = useLiveDesk();
  const { data: preset, error, refetch } = usePresetQuery(presetId ?? '', { skip: !presetId });
  const profile = useProfileQuery(preset?.profileId ?? '', { skip: !preset }).data;
  const back = () => (router.canGoBack() ? router.back() : router.navigate('/library'));
  useShortcuts({ Escape: back });
  const live = strip === undefined ? undefined : now?.state[strip];
  const source = useMemo((): PresetSource | undefined => {
    if (preset && profile) return { kind: preset.kind, profile, content: preset.content };
    return strip !== undefined && live && now
      ? { kind: 'strip', profile: now.profile, content: { [strip]: live } }
      : undefined;
  }, [preset, profile, strip, live, now]);
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  if (!now || (presetId !== undefined && !source)) return <Loading what="Loading the preset" />;
  if (!source && !now.known)
    return (
      <NeverHeard title="Copy to other strips" desk={now.desk} onBack={back}>
        A strip can be copied once its desk is connected.
      </NeverHeard>
    );
  if (!source) return <Empty title="No such strip">Choose one on the desk.</Empty>;
  const props: PutProps = {
    now,
    source,
    title: preset?.name ?? displayName(now.profile, now.state, strip ?? ''),
    preset: preset ? { presetId: preset.id, edition: preset.edition } : null,
    first: to?.split(',').filter((one) => now.profile.strips.includes(one)) ?? [],
    onBack: back,
  };
  if (source.kind === 'strip set') return <ApplyStripSet {...props} />;
  if (source.kind === 'patch' || source.kind === 'template') return <PutDesk {...props} />;
  return <PutStrips {...props} />;
}
