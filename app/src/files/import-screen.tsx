import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { ImportView } from '@old-echo/core/contracts/file-transfer';
import type { JobStatus } from '@old-echo/core/contracts/job';
import { plural } from '@old-echo/core/phrases/format-value';

import { CheckRow } from '../components/check-row';
import { IntoChips } from '../components/into-chips';
import { JobProgress } from '../components/job-progress';
import { LoadError, Loading } from '../components/loading';
import { api, toApiFault } from '../store/api';
import { deskHref } from '../store/desk-address';
import { deskApi } from '../store/desk-api';
import {
  useCancelImportMutation,
  useImportProgressQuery,
  useImportQuery,
  useStartImportMutation,
} from '../store/files-api';
import { useAppDispatch } from '../store/store';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, Footer } from '../ui/buttons';
import { Body, Card, Header } from '../ui/layout';
import { useShortcuts } from '../ui/use-shortcuts';
import { FileTree, leaves } from './file-tree';
import { firstInto, firstTaken } from './first-taken';

/** How often it is asked how far it is, in ms. */
const POLL_MS = 400;

/** Contents a file, what is new here, and what of it is to come in. */
export function FileScreen() {
  const { file: id } = useLocalSearchParams<{ file: string }>();
  const { data, error, refetch } = useImportQuery(id);
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  return data ? <ImportContents key={data.id} file={data} /> : <Loading what="Loading the file" />;
}

function ImportContents({ file }: { readonly file: ImportView }) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const done = useRunAndNotify();
  const [taken, setTaken] = useState<ReadonlySet<string>>(() => firstTaken(file));
  const [intoId, setIntoId] = useState<string | null>(() => firstInto(file));
  const [replace, setReplace] = useState(false);
  const [begun, setBegun] = useState(file.job?.status === 'running');
  const [bring] = useStartImportMutation();
  const [cancel] = useCancelImportMutation();
  const progress = useImportProgressQuery(file.id, { pollingInterval: begun ? POLL_MS : 0, skip: !begun }).data;
  const back = () => router.navigate('/files');
  useShortcuts({ Escape: back });
  const job = progress?.job;
  const connect = job?.status === 'done' ? progress?.toConnect : undefined;
  const running = begun && (!job || job.status === 'running');
  const ended = begun && job && job.status !== 'running' ? job : undefined;
  const all = leaves(file.branches).map(({ id }) => id);
  // Sections say how much of the scenes comes in; they are nothing that comes in by itself.
  const [sections, things] = [all.filter(isSection), all.filter((id) => !isSection(id) && taken.has(id))];
  const [chosen, withScenes] = [sections.filter((id) => taken.has(id)).length, things.some(hasScenes)];
  const count = withScenes && chosen === 0 ? 0 : things.length;
  const part = withScenes && chosen < sections.length ? `, ${chosen} of ${plural(sections.length, 'section')}` : '';
  const why =
    count === 0
      ? 'Choose what comes in first.'
      : file.format === 'archive' && !withScenes && things.some((id) => needsSong(id, intoId))
        ? 'Choose a version as well, or the song or show that the rest goes into.'
        : false;
  const begin = async () => {
    const asked = await done(bring({ id: file.id, request: { include: [...taken], replace, intoId } }), () => '');
    if (asked) setBegun(true);
  };
  const readAgain = () =>
    dispatch(
      api.util.invalidateTags([
        'productions',
        'scenes',
        'presets',
        'desks',
        'stems',
        'mixNotes',
        'parts',
        'venues',
        'outboard',
        'scopes',
      ]),
    );
  const toConnect = async (desk: string) => {
    readAgain();
    // It came in just now: its form is opened once it is known here.
    await dispatch(deskApi.endpoints.desks.initiate(undefined, { forceRefetch: true, subscribe: false }));
    // From there one comes back to what was brought in.
    if (progress?.resultPath) router.replace(progress.resultPath);
    router.navigate(deskHref(desk, 'place'));
  };
  const open = () => {
    readAgain();
    if (progress?.resultPath) router.navigate(progress.resultPath);
  };
  return (
    <View style={styles.fill}>
      <Header
        over={file.name}
        title={running ? STATUS_TEXT.running : ended ? STATUS_TEXT[ended.status] : 'Contents'}
        onBack={back}
      />
      <Body tight>
        <AppText testID="what">{file.what}</AppText>
        <AppText tone="second">{file.fits}</AppText>
        {running ? (
          <JobProgress job={job} of="item" />
        ) : ended ? (
          <Card edge={ended.status === 'done' ? 'done' : 'stop'}>
            <AppText testID="ended">
              {ended.status === 'done'
                ? ended.why || 'Everything you chose is here.'
                : ended.status === 'cancelled'
                  ? 'Nothing was imported.'
                  : ended.why}
            </AppText>
            {connect ? (
              <AppText tone="second">
                Nobody has said yet where {connect.name} is. Its scenes can be looked at and compared meanwhile.
              </AppText>
            ) : null}
          </Card>
        ) : (
          <>
            <IntoChips into={file.into} orNew={file.format === 'archive'} intoId={intoId} onInto={setIntoId} />
            <FileTree branches={file.branches} taken={taken} onTaken={setTaken} />
            {file.format === 'scene' ? null : (
              <CheckRow
                name="Replace what is here already"
                under={
                  intoId === null
                    ? 'Items of the same name go to the bin. If off, both stay, and the imported one gets a new name. Presets that are identical stay once.'
                    : 'Presets of the same name go to the bin. What the song or show has already stays as it is either way.'
                }
                tick={replace ? 'all' : 'none'}
                testID="replace"
                onPress={() => setReplace(!replace)}
              />
            )}
          </>
        )}
      </Body>
      <Footer>
        {running ? (
          <Action
            grow
            title="Cancel"
            onPress={() => void done(cancel(file.id), () => 'Cancelling. Nothing is saved.')}
          />
        ) : ended?.status === 'done' ? (
          <>
            {connect ? (
              <Action kind="main" grow title={`Connect ${connect.name}`} onPress={() => void toConnect(connect.id)} />
            ) : null}
            <Action kind={connect ? 'other' : 'main'} grow={!connect} title="Open it" onPress={open} />
          </>
        ) : ended ? (
          <Action grow title="Choose again" onPress={() => setBegun(false)} />
        ) : (
          <Action
            kind="main"
            grow
            title={count === 0 ? 'Nothing chosen' : `Import ${plural(count, 'item')}${part}`}
            disabled={why}
            onPress={() => void begin()}
          />
        )}
      </Footer>
    </View>
  );
}

const STATUS_TEXT: Readonly<Record<JobStatus, string>> = {
  running: 'Importing',
  done: 'Imported',
  failed: 'Import failed',
  cancelled: 'Cancelled',
};

/** Whether something comes in only with a version, or into a song or show that is here. */
const needsSong = (id: string, intoId: string | null) =>
  id === 'mixNotes' || (intoId === null && /^(parts|venues|outboard|sound)\b/.test(id));
const isSection = (id: string) => id.startsWith('sections/');
const hasScenes = (id: string) => id === 'scene' || id.startsWith('versions/');

const styles = StyleSheet.create({ fill: { flex: 1, minWidth: 0 } });
