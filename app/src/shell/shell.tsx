import { type Href, useGlobalSearchParams, usePathname, useRouter } from 'expo-router';
import type { LucideIcon } from 'lucide-react-native';
import LibraryBig from 'lucide-react-native/icons/library-big';
import Scale from 'lucide-react-native/icons/scale';
import SlidersVertical from 'lucide-react-native/icons/sliders-vertical';
import Waves from 'lucide-react-native/icons/waves-horizontal';
import { type ReactNode, useEffect, useEffectEvent, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';

import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';

import { TouchRestores } from '../components/restore-at-once';
import { FileDropZone } from '../files/file-drop-zone';
import { EntryScreen } from '../people/entry-screen';
import { ProductionSheet } from '../scenes/production-picker-sheet';
import { deskHref } from '../store/desk-address';
import { useDesksQuery } from '../store/desk-api';
import { forgetLastSeen } from '../store/last-seen';
import { useHereQuery } from '../store/people-api';
import { deskAmong, foundDesks } from '../store/preferences-slice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useLiveChannel } from '../store/use-live-channel';
import { useMayAskHere } from '../store/use-may-ask';
import { AllowedContext } from '../ui/allowed';
import { AppText } from '../ui/app-text';
import { Icon } from '../ui/icon';
import { useIsLow, useIsWide } from '../ui/layout';
import { useLook } from '../ui/theme';
import { RAIL, SPACE } from '../ui/tokens';
import { PAGE } from '../ui/use-layer';
import { useShortcuts } from '../ui/use-shortcuts';
import { ConnectionBanner } from './connection-banner';
import { Notice } from './notice';
import { PageFaults } from './page-fault';
import { PlainBanner } from './plain-banner';
import { ShortcutList } from './shortcut-list';
import { useServiceWorker } from './use-service-worker';
import { useTrueAddress } from './use-true-address';

/** The app for whoever is let in; for others the page on which they get in. */
export function Shell({ children }: { readonly children: ReactNode }) {
  const look = useLook();
  const { data: here, isLoading } = useHereQuery();
  const isOut = here?.role === null;
  // Whoever opens a link for clients needs not be let in, and sees nothing else.
  const isClient = usePathname().startsWith('/listen/');
  useEffect(() => {
    if (isOut) void forgetLastSeen();
  }, [isOut]);
  // At the machine itself everybody is in; elsewhere nothing is shown before that is known.
  const isKnown = !isLoading || isThisMachine(window.location);
  if (isKnown && !isOut && !isClient)
    return <InShell isPlain={here?.device != null && here.network === 'http'}>{children}</InShell>;
  return (
    <View nativeID={PAGE} style={[styles.shell, { backgroundColor: look.paper }]}>
      <View role="main" style={styles.body}>
        {isClient ? <PageFaults>{children}</PageFaults> : isKnown ? <EntryScreen /> : null}
      </View>
      <Notice />
    </View>
  );
}

/** Whether a page was opened where only the machine that Old Echo runs on reaches it. */
const isThisMachine = ({ protocol, hostname }: Location): boolean =>
  protocol === 'http:' && (hostname === 'localhost' || hostname === '[::1]' || hostname.startsWith('127.'));

/** What is around every screen: the places, the state of the link, and notices. */
function InShell({ children, isPlain }: { readonly children: ReactNode; readonly isPlain: boolean }) {
  const mayAsk = useMayAskHere();
  const low = useIsLow();
  const rail = useIsWide() || low;
  const look = useLook();
  const router = useRouter();
  const deskId = useDefaultDesk();
  const [keysOpen, setKeysOpen] = useState(false);
  const [switching, setSwitching] = useState(false);
  const productionId = useAppSelector((root) => root.place.productionId);
  useLiveChannel(deskId, usePathname());
  useTrueAddress();
  useServiceWorker();
  useShortcuts({
    '?': () => setKeysOpen((open) => !open),
    d: () => router.navigate('/desk'),
    m: () => router.navigate('/mixes'),
    b: () => router.navigate('/compare'),
    i: () => router.navigate('/library'),
    c: () => deskId && mayAsk(CAPTURE_ROUTES.captureScene) && router.navigate(deskHref(deskId, 'capture')),
    s: () => router.navigate('/settings'),
    y: () => setSwitching(true),
  });
  return (
    <AllowedContext value={mayAsk}>
      <View nativeID={PAGE} style={[styles.shell, { backgroundColor: look.paper }, rail && styles.wide]}>
        <View role="main" style={styles.body}>
          {isPlain ? <PlainBanner /> : null}
          <ConnectionBanner />
          <TouchRestores>
            <PageFaults>{children}</PageFaults>
          </TouchRestores>
        </View>
        <NavBar rail={rail} low={low} />
        <Notice />
        <FileDropZone />
        <ProductionSheet current={productionId ?? ''} open={switching} onClose={() => setSwitching(false)} />
        <ShortcutList open={keysOpen} onClose={() => setKeysOpen(false)} />
      </View>
    </AllowedContext>
  );
}

/** The desk that the address names, else that of the last visit; where it no longer exists, the first. */
function useDefaultDesk(): string | null {
  const dispatch = useAppDispatch();
  const { desk: named } = useGlobalSearchParams<{ desk?: string }>();
  const followed = useAppSelector((root) => root.place.deskId);
  const { data: desks } = useDesksQuery();
  // One that is out of use is gone to only by its address.
  const ids = [...(desks ?? [])]
    .sort((a, b) => Number(Boolean(a.removedAt)) - Number(Boolean(b.removedAt)))
    .map(({ id }) => id);
  const known = deskAmong({ ids, named }, followed);
  // A page may go to the desk of its song in the same moment: what stands then is decided where it is kept.
  const settle = useEffectEvent(() => dispatch(foundDesks({ ids, named })));
  useEffect(() => {
    if (known && known !== followed) settle();
  }, [known, followed]);
  return known;
}

const NAV_ITEMS: readonly { name: string; href: Href; path: RegExp; icon: LucideIcon }[] = [
  { name: 'Desk', href: '/desk', path: /^\/($|desk|add-desk|settings|devices|ripple)/, icon: SlidersVertical },
  { name: 'Mixes', href: '/mixes', path: /^\/(mixes|productions)/, icon: Waves },
  { name: 'Compare', href: '/compare', path: /^\/compare/, icon: Scale },
  { name: 'Library', href: '/library', path: /^\/(library|carry|files)/, icon: LibraryBig },
];

function NavBar({ rail, low }: { readonly rail: boolean; readonly low: boolean }) {
  const look = useLook();
  const router = useRouter();
  const pathname = usePathname();
  return (
    <View
      role="navigation"
      style={[
        rail ? styles.rail : styles.bar,
        low && styles.low,
        { backgroundColor: look.card, borderColor: look.line },
      ]}
    >
      {NAV_ITEMS.map(({ name, href, path, icon }) => {
        const here = path.test(pathname);
        return (
          <Pressable
            key={name}
            role="button"
            aria-current={here ? 'page' : undefined}
            aria-label={name}
            onPress={() => router.navigate(href)}
            style={styles.place}
          >
            <Icon of={icon} color={here ? look.ink : look.second} />
            <AppText kind="small" tone={here ? 'ink' : 'second'}>
              {name}
            </AppText>
          </Pressable>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  shell: { flex: 1, flexDirection: 'column' },
  wide: { flexDirection: 'row-reverse' },
  body: { flex: 1, minWidth: 0 },
  bar: { flexDirection: 'row', borderTopWidth: 1, minHeight: 60 },
  rail: { width: RAIL, borderRightWidth: 1, paddingTop: SPACE.l, gap: SPACE.s },
  low: { width: 68, paddingTop: SPACE.xs },
  place: { flex: 1, maxHeight: 64, minHeight: 60, alignItems: 'center', justifyContent: 'center', gap: 2 },
});
