import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';

import type { Recall } from '@old-echo/core/contracts/restore';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { isManual } from '@old-echo/core/desk/manual';
import { displayName } from '@old-echo/core/desk/state';
import { capitalise, countStrips, plural } from '@old-echo/core/phrases/format-value';
import { canFade } from '@old-echo/core/recall/fade-steps';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { canThump } from '@old-echo/core/recall/restore-order';

import { AuditionBar } from '../components/audition/audition-bar';
import { heardAt } from '../components/heard-at';
import { Loading } from '../components/loading';
import { NeverHeard } from '../components/never-heard';
import { type ApiFault, toApiFault } from '../store/api';
import { deskHref } from '../store/desk-address';
import { useRestoreQuery, useStartRestoreMutation } from '../store/recall-api';
import { useAppSelector } from '../store/store';
import { useLiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Action, Footer, HoldButton } from '../ui/buttons';
import { focusFirst, useFocusTarget } from '../ui/focus-registry';
import { Card, Empty, Header, SectionHeading } from '../ui/layout';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { CautionCard } from './caution-card';
import { FadePicker } from './fade-picker';
import { previewDiff } from './preview-diff';
import { rowsOf } from './preview-rows';
import { SkippedChanges } from './skipped-changes';
import { StripChangeRow } from './strip-change-row';
import { useAccepted } from './use-accepted';
import { type Answers, useAnswers } from './use-caution-answers';
import { usePreviewAudition } from './use-preview-audition';
import { type Plan, usePlan } from './use-recall-plan';

interface PreviewPaneProps {
  readonly recall: Recall;
  readonly onBack?: () => void;
}

/** What a restore will do, before anything is sent: cautions, strips with echoes, what stays and why, and the button. */
export function PreviewPane({ recall, onBack }: PreviewPaneProps) {
  const router = useRouter();
  const accepted = useAccepted(recall);
  const resumed = useRestoreQuery(recall.resume?.restoreId ?? skipToken).data;
  const answers = useAnswers(recall, accepted.points, resumed?.fade);
  const plan = usePlan(answers.recall);
  const who = useAppSelector((root) => root.place.who);
  const [start, { isLoading, error }] = useStartRestoreMutation();
  // What was looked at first; what the desk has done to it since is told.
  const [first, setFirst] = useState<Looked>();
  const look = () => plan && setFirst({ recall: answers.recall, preview: plan.preview, linked: plan.now.linked });
  if (plan?.now.known && first?.recall !== answers.recall) look();
  const foot = useFocusTarget('restore button');
  const audition = usePreviewAudition(plan, answers.recall);
  // The keys only lead to a button: what it does is confirmed there.
  useShortcuts({
    r: () => focusFirst('restore button'),
    a: () => focusFirst('caution to check'),
  });
  if (!plan || !answers.recall || !accepted.isKnown) return <NoPlan recall={recall} onBack={onBack} />;
  const { now, name, preview } = plan;
  const moved = first && previewDiff(first.preview, preview);
  // What was prepared while the desk did not answer is looked at again once it does.
  const prepared = first !== undefined && !first.linked && now.linked;
  if (prepared && moved === undefined && plan.upToDate) look();
  const count = preview.changes.length;
  const open = answers.open(preview.cautions).length;
  const restore = async () => {
    if (!answers.recall) return;
    const { fade, curve } = answers;
    const given = answers.given.map(({ way, points }) => ({ way, points: [...points] }));
    const request = { recall: answers.recall, fingerprint: preview.fingerprint, fade, curve, answers: given, by: who };
    const answer = await start({ desk: now.desk.id, request });
    if (answer.data) router.navigate(deskHref(now.desk.id, `restores/${answer.data.id}`));
  };
  const live = now.desk.mode === 'live';
  // A restore that did not end can be closed although nothing of it is left to be sent: it is read back once more.
  const stopped =
    count === 0 && !recall.resume
      ? 'Nothing to restore'
      : now.desk.showLock
        ? 'The show is locked'
        : prepared
          ? 'Look at what moved first'
          : open > 0
            ? `${plural(open, 'caution')} to answer`
            : !now.linked
              ? `${now.desk.name} does not answer`
              : undefined;
  const title = count === 0 ? 'Read back and close' : `${verbOf(recall)} ${plural(count, 'setting')}`;
  return (
    <View style={styles.fill}>
      <Header
        over={`Preview · ${name}`}
        title={count === 0 ? 'No changes' : plural(count, 'change')}
        under={`${now.linked ? 'To' : `Against the values read ${heardAt(now.desk.heardAt)} from`} ${now.desk.name}`}
        onBack={onBack}
        side={<Mode live={live} />}
      />
      <StripChanges
        plan={plan}
        answers={answers}
        onForget={accepted.forget}
        fault={error && toApiFault(error)}
        moved={moved && (prepared ? `${now.desk.name} is connected again. Since it was last read: ${moved}` : moved)}
        onSeen={look}
      />
      {audition && count > 0 ? <AuditionBar audition={audition} title="Hear it first: A now, B restored" /> : null}
      <View ref={foot}>
        <Footer>
          {live ? (
            <HoldButton
              asks={DESK_RECALL_ROUTES.startRestore}
              title={stopped ?? (isLoading ? 'Starting' : `Hold to ${title.charAt(0).toLowerCase()}${title.slice(1)}`)}
              disabled={stopped !== undefined ? `${stopped}.` : isLoading && 'It is starting.'}
              onDone={() => void restore()}
            />
          ) : (
            <Action
              asks={DESK_RECALL_ROUTES.startRestore}
              kind="main"
              grow
              title={stopped ?? title}
              busy={isLoading}
              disabled={stopped !== undefined && `${stopped}.`}
              onPress={() => void restore()}
            />
          )}
        </Footer>
      </View>
    </View>
  );
}

/** What was looked at, and whether the desk answered then. */
interface Looked {
  readonly recall: Recall | undefined;
  readonly preview: Preview;
  readonly linked: boolean;
}

/** What the button does: each kind of recall by its own word. */
const verbOf = ({ stagedSettingsId, baseline, resume }: Recall): string =>
  stagedSettingsId
    ? 'Apply'
    : baseline
      ? 'Put back'
      : resume
        ? resume.how === 'finish'
          ? 'Finish'
          : 'Roll back'
        : 'Restore';

/** In the place of a preview that cannot be worked out, or not yet. */
function NoPlan({ recall, onBack }: { readonly recall: Recall; readonly onBack: (() => void) | undefined }) {
  const now = useLiveDesk(recall.deskId);
  if (!now || now.known) return <Loading what="Loading the preview" />;
  return <NeverHeard title="No preview yet" desk={now.desk} onBack={onBack} />;
}

function Mode({ live }: { readonly live: boolean }) {
  const look = useLook();
  return (
    <View style={[styles.mode, { borderColor: live ? look.stop : look.line }]}>
      <AppText tone={live ? 'stop' : 'second'}>{live ? 'Live' : 'Studio'}</AppText>
    </View>
  );
}

interface StripChangesProps {
  readonly plan: Plan;
  readonly answers: Answers;
  readonly onForget: () => void;
  readonly fault: ApiFault | undefined;
  readonly moved: string | undefined;
  readonly onSeen: () => void;
}

function StripChanges({ plan, answers, onForget, fault, moved, onSeen }: StripChangesProps) {
  const { now, preview, after } = plan;
  const [open, setOpen] = useState<string | null>(null);
  const rows = useMemo(() => rowsOf(now.profile, preview), [now.profile, preview]);
  return (
    <FlatList
      style={styles.fill}
      data={rows}
      keyExtractor={(row) => row.key}
      initialNumToRender={20}
      ListHeaderComponent={
        <View style={styles.cards}>
          {fault ? (
            <Card edge="stop">
              <AppText kind="strong">{fault.message}</AppText>
              <AppText>
                {fault.code === 'desk-moved'
                  ? 'Nothing was sent. The preview below is of what is asked for now.'
                  : fault.advice}
              </AppText>
            </Card>
          ) : null}
          {moved ? (
            <Card edge="care">
              <AppText kind="strong">The desk moved while you were looking</AppText>
              <AppText tone="second">{capitalise(moved)} The preview is up to date.</AppText>
              <Action kind="quiet" title="OK" onPress={onSeen} />
            </Card>
          ) : null}
          {preview.cautions.map((caution) => (
            <CautionCard key={caution.id} caution={caution} plan={plan} answers={answers} onForget={onForget} />
          ))}
          <SetByHand plan={plan} />
          {preview.guarded.length > 0 ? <MutedMeanwhile plan={plan} /> : null}
          {answers.leftOut > 0 ? (
            <Card>
              <View style={styles.row}>
                <AppText style={styles.fill}>{plural(answers.leftOut, 'setting')} left out</AppText>
                <Action kind="quiet" title="Include again" onPress={answers.bringBackIn} />
              </View>
            </Card>
          ) : null}
          {preview.changes.some(({ address }) => canFade(now.profile, address)) ? (
            <FadePicker
              fade={answers.fade}
              onChange={answers.setFade}
              curve={answers.curve}
              onCurve={answers.setCurve}
            />
          ) : null}
          {preview.changes.length > 0 ? (
            <AppText kind="small" tone="second">
              Dashed: now. Solid: after the restore.
            </AppText>
          ) : null}
        </View>
      }
      renderItem={({ item }) =>
        item.kind === 'band' ? (
          <SectionHeading title={item.title} />
        ) : (
          <StripChangeRow
            profile={now.profile}
            state={now.state}
            after={after}
            strip={item.key}
            changes={item.changes}
            open={open === item.key}
            onOpen={(strip) => setOpen(open === strip ? null : strip)}
          />
        )
      }
      ListEmptyComponent={
        <Empty title="Nothing to restore">
          {preview.stays.length > 0
            ? 'What differs stays as it is. The reasons are below.'
            : 'The desk already holds all of it.'}
        </Empty>
      }
      ListFooterComponent={
        preview.stays.length > 0 ? (
          <SkippedChanges profile={now.profile} names={now.state} stays={preview.stays} />
        ) : null
      }
    />
  );
}

/** What nothing can be sent to. */
function SetByHand({ plan: { now, preview } }: { readonly plan: Plan }) {
  const own = preview.changes.filter(({ strip }) => isManual(now.profile, strip));
  if (own.length === 0) return null;
  const strips = countStrips(own.map(({ strip }) => strip));
  const isAll = own.length === preview.changes.length;
  return (
    <Card edge="care">
      <AppText kind="strong">
        {isAll ? 'All of it is set by hand' : `Set by hand: ${plural(own.length, 'setting')} on ${strips}`}
      </AppText>
      <AppText tone="second">
        {isAll
          ? `You are led through ${strips}`
          : 'The rest comes back by itself first. Then you are led from strip to strip'}
        , and can leave and go on at any time.
      </AppText>
    </Card>
  );
}

function MutedMeanwhile({ plan }: { readonly plan: Plan }) {
  const { now, preview } = plan;
  const names = preview.guarded.map((strip) => displayName(now.profile, now.state, strip));
  return (
    <Card edge="care">
      <AppText kind="strong">
        {names.length === 1
          ? `${names[0]} is muted during the restore`
          : `${names.length} strips are muted during the restore`}
      </AppText>
      <AppText tone="second">
        {names.slice(0, 4).join(', ')}
        {names.length > 4 ? ` and ${names.length - 4} more` : ''}: {whyGuarded(plan)} Muted first, unmuted at the end.
      </AppText>
    </Card>
  );
}

/** Why strips are muted on the way: what would thump on them, or that someone asked for it. */
function whyGuarded({ preview: { guarded, changes } }: Plan): string {
  const thump = guarded.some((strip) => changes.some((change) => change.strip === strip && canThump(change.key)));
  return thump ? 'a change there could thump or click.' : 'as you asked.';
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  mode: {
    borderWidth: 1,
    borderRadius: SPACE.s,
    minHeight: TOUCH - SPACE.s,
    justifyContent: 'center',
    paddingHorizontal: SPACE.m,
  },
  cards: { padding: SPACE.l, gap: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s },
});
