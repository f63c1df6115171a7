import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import Upload from 'lucide-react-native/icons/upload';
import X from 'lucide-react-native/icons/x';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';

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
import { MainAction } from '../ui/buttons';
import { chooseFiles } from '../ui/choose-files';
import { Body, Empty, Header } from '../ui/layout';
import { IconAction } from '../ui/menu';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { matchFileToStrip } from './match-file-to-strip';
import { useUploads } from './use-stem-uploads';

const WAV = '.wav,audio/wav';

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
  const { uploads, send, cancel } = useUploads(production.id);
  const [unplaced, setUnplaced] = useState<readonly File[]>([]);
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  if (!now) return <Loading what="Loading the desk" />;
  const strips: NamedStrip[] = (now.profile.families.find(({ id }) => id === 'in')?.strips ?? []).map((strip) => ({
    strip,
    name: displayName(now.profile, now.state, strip),
  }));
  /** Each file goes to the strip its name means; what its name means nothing of waits to be told. */
  const attach = async (files: readonly File[]) => {
    setUnplaced([...unplaced, ...files.filter((file) => matchFileToStrip(file.name, strips) === undefined)]);
    for (const file of files) {
      const strip = matchFileToStrip(file.name, strips);
      if (strip !== undefined) await send(strip, file);
    }
  };
  const place = (strip: string) => {
    const [file, ...rest] = unplaced;
    setUnplaced(rest);
    if (file) void send(strip, file);
  };
  return (
    <View style={styles.fill}>
      <Header over={production.name} title="Stems" onBack={back} />
      <Body tight>
        <AppText tone="second">
          One WAV per strip, 16 or 24 bits or float, 44.1 to 96 kHz. Files find their strip by name or number; where
          there is none, you are asked.
        </AppText>
        {stems.length === 0 && uploads.length === 0 ? (
          <Empty title="No stems yet">Attach the recordings, and any two mixes can be heard.</Empty>
        ) : null}
        {strips.map(({ strip, name }) => (
          <Row
            key={strip}
            strip={strip}
            name={name}
            stem={stems.find((stem) => stem.strip === strip)}
            upload={uploads.find((upload) => upload.strip === strip)}
            onFile={(file) => void send(strip, file)}
            onCancel={() => cancel(strip)}
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
        title="Attach WAV files"
        onPress={() => chooseFiles({ accept: WAV, multiple: true }, (files) => void attach(files))}
      />
    </View>
  );
}

interface RowProps {
  readonly strip: string;
  readonly name: string;
  readonly stem: StemView | undefined;
  readonly upload: { readonly name: string; readonly part: number; readonly why: string } | undefined;
  readonly onFile: (file: File) => void;
  readonly onCancel: () => void;
  readonly onDetach: () => void;
}

function Row({ strip, name, stem, upload, onFile, onCancel, onDetach }: RowProps) {
  const look = useLook();
  const under = upload
    ? upload.why || `${upload.name}: ${Math.round(upload.part * 100)} %`
    : stem
      ? `${stem.name || 'A WAV file'}${stem.silent ? ' · silent' : ''} · ${lengthOf(stem)} · ${stem.rate / 1000} kHz${peakWords(stem)}`
      : 'No stem';
  return (
    <View style={[styles.row, { borderColor: look.line }]} testID={`stem-${strip}`}>
      <View style={styles.fill}>
        <AppText kind="strong" tone={stem ? 'ink' : 'second'} numberOfLines={1}>
          {name}
        </AppText>
        <AppText kind="small" tone={upload?.why ? 'stop' : 'second'} numberOfLines={upload?.why ? 4 : 1}>
          {under}
        </AppText>
        {upload && !upload.why ? <ProgressBar accessibilityLabel="Upload" progress={upload.part} /> : null}
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
            of={Upload}
            name={`Attach a WAV file to ${name}`}
            onPress={() => chooseFiles({ accept: WAV }, ([file]) => file && onFile(file))}
          />
          {stem ? <IconAction of={X} name={`Remove the stem from ${name}`} onPress={onDetach} /> : null}
        </>
      )}
    </View>
  );
}

const peakWords = ({ peak }: StemView): string => (peak === null ? '' : ` · peaks at ${formatPeak(peak)}`);

/** Seconds, or samples where there are few. */
const lengthOf = ({ seconds, rate }: StemView): string =>
  seconds < 0.1 ? plural(Math.round(seconds * rate), 'sample') : `${seconds.toFixed(1)} s`;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', minHeight: ROW + SPACE.s, borderBottomWidth: 1 },
});
