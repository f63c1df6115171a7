import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import UploadIcon from 'lucide-react-native/icons/upload';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

import { clock } from '@old-echo/core/contracts/mix-note';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { StemView } from '@old-echo/core/contracts/sound';
import { displayName } from '@old-echo/core/desk/state';
import { formatPeak, plural } from '@old-echo/core/phrases/format-value';

import { Loading } from '../components/loading';
import { type NamedStrip } from '../components/named-strip';
import { StripSheet } from '../components/strip-picker-sheet';
import { useProduction } from '../components/use-production';
import { allAnswered } from '../store/all-here';
import { givenBack } from '../store/api';
import { useDetachStemMutation, useStemsQuery } from '../store/sound-api';
import { useLiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, MainAction } from '../ui/buttons';
import { chooseFiles } from '../ui/choose-files';
import { Body, Empty, Header } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { matchFileToStrip } from './match-file-to-strip';
import type { Placed, Upload } from './stem-uploads';
import { useUploads } from './use-stem-uploads';

const RECORDINGS = '.wav,.flac,audio/wav,audio/flac';

/** The stems of a production: which recording feeds which strip. */
export function StemsScreen() {
  const { production, loaded } = useProduction();
  const read = allAnswered(useStemsQuery(production?.id ?? skipToken));
  if (!loaded || !read) return <Loading what="Loading the stems" />;
  return production ? (
    <Stems production={production} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

function Stems({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const now = useLiveDesk(production.deskId);
  const done = useRunAndNotify();
  const { data: stems = [] } = useStemsQuery(production.id);
  const [detach] = useDetachStemMutation();
  const { own: sending, uploads, progress } = useUploads(production.id);
  const [known, setKnown] = useState(0);
  const [unplaced, setUnplaced] = useState<readonly File[]>([]);
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  if (!now) return <Loading what="Loading the desk" />;
  const stemOf = (strip: string) => stems.find((stem) => stem.strip === strip);
  const strips: NamedStrip[] = (now.profile.families.find(({ id }) => id === 'in')?.strips ?? []).map((strip) => ({
    strip,
    name: displayName(now.profile, now.state, strip),
  }));
  /**
   * Each file goes to the strip its name means; what its name means nothing of, or a strip that another goes to, waits to be told. What is
   * there already is not sent again.
   */
  const attach = (files: readonly File[]) => {
    const placed: Placed[] = [];
    const asked: File[] = [];
    for (const file of files) {
      const strip = matchFileToStrip(file.name, strips);
      if (strip === undefined || placed.some((one) => one.strip === strip)) asked.push(file);
      else placed.push({ strip, file });
    }
    const fresh = placed.filter(({ strip, file }) => !isFrom(stemOf(strip), file));
    setKnown(placed.length - fresh.length);
    setUnplaced([...unplaced, ...asked]);
    sending.send(fresh);
  };
  const place = (strip: string) => {
    const [file, ...rest] = unplaced;
    setUnplaced(rest);
    if (file) sending.send([{ strip, file }]);
  };
  const failed = uploads.filter(({ why }) => why !== '');
  return (
    <View style={styles.fill}>
      <Header over={production.name} title="Stems" onBack={back} />
      <Body tight>
        <AppText tone="second">
          One WAV or FLAC per strip, 16, 24 or 32 bits or float, 44.1 to 192 kHz. Files find their strip by name or
          number; where there is none, you are asked.
        </AppText>
        {progress.of > 1 ? (
          <View style={styles.all}>
            <AppText style={styles.fill} accessibilityLiveRegion="polite">
              {`${progress.done} of ${plural(progress.of, 'file')} attached`}
            </AppText>
            <Action kind="small" title="Cancel all" onPress={() => sending.cancelAll()} />
          </View>
        ) : failed.length > 1 ? (
          <View style={styles.all}>
            <AppText tone="stop" style={styles.fill}>{`${failed.length} files could not be attached.`}</AppText>
            <Action
              asks={STEM_ROUTES.attachStem}
              kind="small"
              title="Try them again"
              onPress={() => sending.send(failed)}
            />
          </View>
        ) : null}
        {known > 0 ? <AppText tone="second">{`${plural(known, 'file')} here already, not sent again.`}</AppText> : null}
        {stems.length === 0 && uploads.length === 0 ? (
          <Empty title="No stems yet">Attach the recordings, and any two mixes can be heard.</Empty>
        ) : null}
        {strips.map(({ strip, name }) => (
          <Row
            key={strip}
            strip={strip}
            name={name}
            stem={stemOf(strip)}
            upload={uploads.find((upload) => upload.strip === strip)}
            onFile={(file) => sending.send([{ strip, file }])}
            onCancel={() => sending.cancel(strip)}
            onDetach={() =>
              void done(detach({ production: production.id, strip }), () => `Stem removed from ${name}.`, givenBack)
            }
          />
        ))}
      </Body>
      <StripSheet
        title={unplaced[0] ? `Which strip is ${unplaced[0].name}?` : ''}
        now={now}
        open={unplaced.length > 0}
        onClose={() => setUnplaced(unplaced.slice(1))}
        onChoose={place}
      />
      <MainAction
        asks={STEM_ROUTES.attachStem}
        title="Attach files"
        onPress={() => chooseFiles({ accept: RECORDINGS, multiple: true }, attach)}
      />
    </View>
  );
}

interface RowProps {
  readonly strip: string;
  readonly name: string;
  readonly stem: StemView | undefined;
  readonly upload: Upload | undefined;
  readonly onFile: (file: File) => void;
  readonly onCancel: () => void;
  readonly onDetach: () => void;
}

/** Whether a stem came from this very file, as far as its name, size and time can tell. */
const isFrom = (stem: StemView | undefined, { name, size, lastModified }: File): boolean =>
  stem?.cameFrom != null &&
  !stem.missing &&
  stem.name === name &&
  stem.cameFrom.bytes === size &&
  stem.cameFrom.modified === lastModified;

/** How far a file is. All of it has arrived before it is known what it is. */
const stageOf = ({ part }: Upload): string =>
  part === undefined ? 'waits' : part === 1 ? 'being read' : `${Math.round(part * 100)} %`;

function Row({ strip, name, stem, upload, onFile, onCancel, onDetach }: RowProps) {
  const look = useLook();
  const under = upload ? upload.why || `${upload.file.name}: ${stageOf(upload)}` : stem ? stemWords(stem) : 'No stem';
  return (
    <View style={[styles.row, { borderColor: look.line }]} testID={`stem-${strip}`}>
      <View style={styles.fill}>
        <AppText kind="strong" tone={stem ? 'ink' : 'second'} numberOfLines={1}>
          {name}
        </AppText>
        <AppText
          kind="small"
          tone={upload?.why || stem?.missing ? 'stop' : 'second'}
          numberOfLines={upload?.why ? 4 : 2}
        >
          {under}
        </AppText>
        {upload && !upload.why ? <ProgressBar accessibilityLabel="Upload" progress={upload.part ?? 0} /> : null}
      </View>
      {upload ? (
        <IconAction
          asks={STEM_ROUTES.detachStem}
          of={X}
          name={upload.why ? `Dismiss the error on ${name}` : `Cancel ${name}`}
          onPress={onCancel}
        />
      ) : (
        <>
          <IconAction
            asks={STEM_ROUTES.attachStem}
            of={UploadIcon}
            name={`Attach a file to ${name}`}
            onPress={() => chooseFiles({ accept: RECORDINGS }, ([file]) => file && onFile(file))}
          />
          {stem ? <IconAction of={X} name={`Remove the stem from ${name}`} onPress={onDetach} /> : null}
        </>
      )}
    </View>
  );
}

/** What is to be known of a stem, in one line. */
function stemWords(stem: StemView): string {
  const name = stem.name || 'A file';
  if (stem.missing) return `${name} is missing on the disk, so it is not heard. Attach it again.`;
  const begins = stem.start > 0 ? ` · begins at ${clock(stem.start)}` : '';
  return `${name}${stem.silent ? ' · silent' : ''}${begins} · ${lengthOf(stem)} · ${stem.rate / 1000} kHz${peakWords(stem)}`;
}

const peakWords = ({ peak }: StemView): string => (peak === null ? '' : ` · peaks at ${formatPeak(peak)}`);

/** Minutes, seconds, or samples where there are few. */
function lengthOf({ seconds, rate }: StemView): string {
  if (seconds < 0.1) return plural(Math.round(seconds * rate), 'sample');
  return seconds < 60 ? `${seconds.toFixed(1)} s` : clock(seconds);
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  all: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: ROW + SPACE.s,
    paddingVertical: SPACE.xs,
    borderBottomWidth: 1,
  },
});
