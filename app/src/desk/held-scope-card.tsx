import { useRouter } from 'expo-router';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import X from 'lucide-react-native/icons/x';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { describeScope } from '@old-echo/core/phrases/describe-scope';
import { compileScope } from '@old-echo/core/recall/compile-scope';

import { deskHref } from '../store/desk-address';
import { scopeReleased } from '../store/held-scope-slice';
import { useAppDispatch } from '../store/store';
import { type LiveDesk, whyNotLinked } from '../store/use-live-desk';
import { AppText, Sentence } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Icon } from '../ui/icon';
import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { CORNER, SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { useSwipe } from '../ui/use-swipe';
import { useElementRef } from '../ui/web-only';
import { type WhyNot, WhyNotAround } from '../ui/why-not';
import type { HeldScope } from './use-held-scope';

interface HeldScopeCardProps {
  readonly now: LiveDesk;
  readonly held: HeldScope;
}

/** What is held while one walks through scenes, where it is from now, and the scenes to either side: arrow keys, or a swipe. */
export function HeldScopeCard({ now, held }: HeldScopeCardProps) {
  const { desk, profile, state, linked } = now;
  const look = useLook();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const sentence = useMemo(
    () => describeScope(profile, compileScope(profile, held.scope, desk.safes), state),
    [profile, held.scope, desk.safes, state],
  );
  const [card, setCard] = useState<HTMLElement | null>(null);
  const cardRef = useElementRef(setCard);
  const step = (way: 'earlier' | 'later') => () => {
    if (linked) void held.step(way);
  };
  // From then on Enter keeps what is heard, instead of pressing what was pressed last.
  const byKey = (act: () => void) => () => {
    card?.focus();
    act();
  };
  const keep = () => router.navigate(deskHref(desk.id, 'capture'));
  const [earlier, later] = [step('earlier'), step('later')];
  const swipe = useSwipe(later, earlier);
  useShortcuts({ ArrowLeft: byKey(earlier), ArrowRight: byKey(later), Enter: keep });
  return (
    <View
      ref={cardRef}
      tabIndex={-1}
      role="group"
      aria-label="Held scope"
      testID="held-scope"
      style={[styles.card, { backgroundColor: look.card, borderColor: look.ink }]}
      {...swipe}
    >
      <View style={styles.row}>
        <View style={styles.fill}>
          <AppText kind="small" tone="second">
            While you step through scenes
          </AppText>
          <Sentence phrases={sentence} />
        </View>
        <Action
          asks={CAPTURE_ROUTES.captureScene}
          kind="quiet"
          title="Keep …"
          disabled={whyNotLinked(now)}
          onPress={keep}
        />
        <IconAction of={X} name="Let go of the held scope" onPress={() => dispatch(scopeReleased(desk.id))} />
      </View>
      <View style={styles.row}>
        <Step way="earlier" scene={held.earlier} onPress={earlier} disabled={whyNotLinked(now)} />
        <View style={styles.fill}>
          <AppText kind="strong" numberOfLines={2} style={styles.centre} testID="held-from" aria-live="polite">
            {held.from}
          </AppText>
        </View>
        <Step way="later" scene={held.later} onPress={later} disabled={whyNotLinked(now)} />
      </View>
    </View>
  );
}

interface StepProps {
  readonly way: 'earlier' | 'later';
  readonly scene: SceneView | null | undefined;
  readonly onPress: () => void;
  readonly disabled: WhyNot;
}

function Step({ way, scene, onPress, disabled }: StepProps) {
  const look = useLook();
  const end = scene === null ? `No ${way} scene` : '…';
  const off = disabled || (!scene && `${end}.`);
  const arrow = <Icon of={way === 'earlier' ? ChevronLeft : ChevronRight} color={off ? look.line : look.ink} />;
  const name = scene ? sceneTitle(scene) : end;
  return (
    <WhyNotAround why={off}>
      <Pressable
        role="button"
        aria-label={scene ? `Take it from ${name}` : name}
        disabled={Boolean(off)}
        onPress={onPress}
        style={[styles.step, { borderColor: look.line }]}
      >
        {way === 'earlier' ? arrow : null}
        <AppText kind="small" tone="second" numberOfLines={2} style={styles.name}>
          {name}
        </AppText>
        {way === 'later' ? arrow : null}
      </Pressable>
    </WhyNotAround>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  card: { marginHorizontal: SPACE.l, marginTop: SPACE.s, borderWidth: 1, borderRadius: CORNER.large, padding: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  step: {
    flexDirection: 'row',
    alignItems: 'center',
    width: '32%',
    minHeight: TOUCH,
    borderWidth: 1,
    borderRadius: CORNER.small,
  },
  name: { flex: 1, textAlign: 'center' },
  centre: { textAlign: 'center' },
});
