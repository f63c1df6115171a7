import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';
import Upload from 'lucide-react-native/icons/upload';
import X from 'lucide-react-native/icons/x';

import type { ProductionView } from '@old-echo/core/contracts/production';
import type { StemView } from '@old-echo/core/contracts/sound';
import { stripName } from '@old-echo/core/desk/state';
import { plural, showPeak } from '@old-echo/core/desk/format-value';

import { useDesk } from '../store/use-live-desk';
import { givenBack, useDetachStemMutation, useStemsQuery } from '../store/api';
import { Action, Foot } from '../ui/buttons';
import { IconAction } from '../ui/menu';
import { Body, Empty, Head } from '../ui/layout';
import { pickFiles } from '../ui/choose-files';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { Waiting } from '../components/loading';
import { Words } from '../ui/app-text';
import { useProduction } from '../components/use-production';
import { useDo } from '../store/use-run-and-notify';
import { useKeys } from '../ui/use-shortcuts';
import { StripSheet } from '../components/strip-picker-sheet';
import { stripOfFile } from './match-file-to-strip';
import { type NamedStrip } from '../components/named-strip';
import { useUploads } from './use-stem-uploads';

const WAV = '.wav,audio/wav';

/** The stems of a production: which recording feeds which strip. */
export function StemsScreen() {
  const { production, loaded } = useProduction();
  if (!loaded) return <Waiting what="Opening the production" />;
  return production ? (
    <Stems production={production} />
  ) : (
    <Empty title="There is no such production">It may have been removed for good.</Empty>
  );
}

function Stems({ production }: { readonly production: ProductionView }) {
  const router = useRouter();
  const now = useDesk(production.deskId);
  const done = useDo();
  const { data: stems = [] } = useStemsQuery(production.id);
  const [detach] = useDetachStemMutation();
  const { uploads, send, cancel } = useUploads(production.id);
  const [unplaced, setUnplaced] = useState<readonly File[]>([]);
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useKeys({ Escape: back });
  if (!now) return <Waiting what="Looking at the desk" />;
  const strips: NamedStrip[] = (now.profile.families.find(({ id }) => id === 'in')?.strips ?? []).map((strip) => ({
    strip,
    name: stripName(now.profile, now.state, strip),
  }));
  /** Each file goes to the strip its name means; what its name means nothing of waits to be told. */
  const attach = async (files: readonly File[]) => {
    setUnplaced([...unplaced, ...files.filter((file) => stripOfFile(file.name, strips) === undefined)]);
    for (const file of files) {
      const strip = stripOfFile(file.name, strips);
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
      <Head over={production.name} title="Stems" onBack={back} />
      <Body tight>
        <Words tone="second">
          What was recorded, one WAV file for each strip: 16 or 24 bits or float, 44.1 to 96 kHz. Mixes are compared by
          ear through them. A file goes to the strip that its name says; where it says none, you are asked.
        </Words>
        {stems.length === 0 && uploads.length === 0 ? (
          <Empty title="No stems yet">Attach the recordings, and any two mixes can be listened to.</Empty>
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
              void done(detach({ production: production.id, strip }), () => `${name} has no stem any more.`, givenBack)
            }
          />
        ))}
      </Body>
      <StripSheet
        title={unplaced[0] ? `Whose recording is ${unplaced[0].name}?` : ''}
        now={now}
        open={unplaced.length > 0}
        onClose={() => setUnplaced(unplaced.slice(1))}
        onChoose={place}
      />
      <Foot>
        <Action
          kind="main"
          grow
          title="Attach WAV files"
          onPress={() => pickFiles({ accept: WAV, multiple: true }, (files) => void attach(files))}
        />
      </Foot>
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
        <Words kind="strong" tone={stem ? 'ink' : 'second'} numberOfLines={1}>
          {name}
        </Words>
        <Words kind="small" tone={upload?.why ? 'stop' : 'second'} numberOfLines={upload?.why ? 4 : 1}>
          {under}
        </Words>
        {upload && !upload.why ? <ProgressBar progress={upload.part} /> : null}
      </View>
      {upload ? (
        <IconAction
          of={X}
          name={upload.why ? `Dismiss what went wrong with ${name}` : `Cancel ${name}`}
          onPress={onCancel}
        />
      ) : (
        <>
          <IconAction
            of={Upload}
            name={`Attach a WAV file to ${name}`}
            onPress={() => pickFiles({ accept: WAV }, ([file]) => file && onFile(file))}
          />
          {stem ? <IconAction of={X} name={`Take the stem off ${name}`} onPress={onDetach} /> : null}
        </>
      )}
    </View>
  );
}

const peakWords = ({ peak }: StemView): string => (peak === null ? '' : ` · peaks at ${showPeak(peak)}`);

/** Seconds, or samples where there are few. */
const lengthOf = ({ seconds, rate }: StemView): string =>
  seconds < 0.1 ? plural(Math.round(seconds * rate), 'sample') : `${seconds.toFixed(1)} s`;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: { flexDirection: 'row', alignItems: 'center', minHeight: ROW + SPACE.s, borderBottomWidth: 1 },
});
