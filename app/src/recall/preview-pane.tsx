import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { useMemo, useRef, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';

import type { Recall } from '@old-echo/core/contracts/restore';
import { stripName } from '@old-echo/core/desk/state';
import { capital, plural } from '@old-echo/core/desk/format-value';
import { thumps } from '@old-echo/core/recall/restore-order';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { canFade } from '@old-echo/core/recall/restore-steps';

import { deskHref } from '../store/desk-address';
import { heardAt } from '../components/heard-at';
import { useDesk } from '../store/use-live-desk';
import { faultOf, useRestoreQuery, useStartRestoreMutation, type ApiFault } from '../store/api';
import { useAppSelector } from '../store/store';
import { Action, Foot, HoldAction } from '../ui/buttons';
import { Band, Card, Empty, Head } from '../ui/layout';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';
import { Waiting } from '../components/loading';
import { Words } from '../ui/app-text';
import { useKeys } from '../ui/use-shortcuts';
import { AuditionBar } from '../components/audition/audition-bar';
import { NeverHeard } from '../components/never-heard';
import { CautionCard } from './caution-card';
import { FadePicker } from './fade-picker';
import { movedSince } from './preview-diff';
import { rowsOf } from './preview-rows';
import { Stays } from './skipped-changes';
import { StripChange } from './strip-change-row';
import { useAccepted } from './use-accepted';
import { useAnswers, type Answers } from './use-caution-answers';
import { usePlan, type Plan } from './use-recall-plan';
import { usePreviewAudition } from './use-preview-audition';

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
  const foot = useRef<View>(null);
  const audition = usePreviewAudition(plan, answers.recall);
  // The keys only lead to a button: what it does is confirmed there.
  useKeys({
    r: () =>
      (foot.current as unknown as HTMLElement | null)?.querySelector<HTMLElement>('[role=button], button')?.focus(),
    a: () => document.querySelector<HTMLElement>('[data-testid=check] button')?.focus(),
  });
  if (!plan || !answers.recall) return <NoPlan recall={recall} onBack={onBack} />;
  const { now, name, preview } = plan;
  const moved = first && movedSince(first.preview, preview);
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
        ? 'The show lock is on'
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
      <Head
        over={`Preview · ${name}`}
        title={count === 0 ? 'No changes' : plural(count, 'change')}
        under={`${now.linked ? 'To' : `Against what was heard ${heardAt(now.desk.heardAt)} of`} ${now.desk.name}`}
        onBack={onBack}
        side={<Mode live={live} />}
      />
      <StripChanges
        plan={plan}
        answers={answers}
        onForget={accepted.forget}
        fault={error && faultOf(error)}
        moved={moved && (prepared ? `${now.desk.name} answers again. Since it was last heard, ${moved}` : moved)}
        onSeen={look}
      />
      {audition && count > 0 ? <AuditionBar audition={audition} title="Hear it first: A now, B restored" /> : null}
      <View ref={foot}>
        <Foot>
          {live ? (
            <HoldAction
              title={stopped ?? (isLoading ? 'Starting' : `Hold to ${title.charAt(0).toLowerCase()}${title.slice(1)}`)}
              disabled={!now.linked || stopped !== undefined || isLoading}
              onDone={() => void restore()}
            />
          ) : (
            <Action
              kind="main"
              grow
              title={stopped ?? title}
              busy={isLoading}
              disabled={!now.linked || stopped !== undefined}
              onPress={() => void restore()}
            />
          )}
        </Foot>
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
const verbOf = ({ placementId, baseline, resume }: Recall): string =>
  placementId
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
  const now = useDesk(recall.deskId);
  if (!now || now.known) return <Waiting what="Working out the preview" />;
  return <NeverHeard title="No preview yet" desk={now.desk.name} onBack={onBack} />;
}

function Mode({ live }: { readonly live: boolean }) {
  const look = useLook();
  return (
    <View style={[styles.mode, { borderColor: live ? look.stop : look.line }]}>
      <Words tone={live ? 'stop' : 'second'}>{live ? 'Live' : 'Studio'}</Words>
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
              <Words kind="strong">{fault.message}</Words>
              <Words>
                {fault.code === 'desk-moved'
                  ? 'Nothing was sent. The preview below is of what is asked for now.'
                  : fault.advice}
              </Words>
            </Card>
          ) : null}
          {moved ? (
            <Card edge="care">
              <Words kind="strong">The desk moved while you were looking</Words>
              <Words tone="second">{capital(moved)} The preview is up to date.</Words>
              <Action kind="quiet" title="I have seen it" onPress={onSeen} />
            </Card>
          ) : null}
          {preview.cautions.map((caution) => (
            <CautionCard key={caution.id} caution={caution} plan={plan} answers={answers} onForget={onForget} />
          ))}
          {preview.guarded.length > 0 ? <Guarded plan={plan} /> : null}
          {answers.leftOut > 0 ? (
            <Card>
              <View style={styles.row}>
                <Words style={styles.fill}>{plural(answers.leftOut, 'setting')} left out for this restore</Words>
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
        </View>
      }
      renderItem={({ item }) =>
        item.kind === 'band' ? (
          <Band title={item.title} />
        ) : (
          <StripChange
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
        <Empty title="Nothing would change">
          {preview.stays.length > 0
            ? 'What differs from the scene stays as it is; below is why.'
            : 'The desk holds all of it already.'}
        </Empty>
      }
      ListFooterComponent={
        preview.stays.length > 0 ? <Stays profile={now.profile} names={now.state} stays={preview.stays} /> : null
      }
    />
  );
}

function Guarded({ plan }: { readonly plan: Plan }) {
  const { now, preview } = plan;
  const names = preview.guarded.map((strip) => stripName(now.profile, now.state, strip));
  return (
    <Card edge="care">
      <Words kind="strong">
        {names.length === 1 ? `${names[0]} is muted on the way` : `${names.length} strips are muted on the way`}
      </Words>
      <Words tone="second">
        {names.slice(0, 4).join(', ')}
        {names.length > 4 ? ` and ${names.length - 4} more` : ''}: {whyGuarded(plan)} Each is muted first and opened
        again at the end.
      </Words>
    </Card>
  );
}

/** Why strips are muted on the way: what would thump on them, or that someone asked for it. */
function whyGuarded({ preview: { guarded, changes } }: Plan): string {
  const thump = guarded.some((strip) => changes.some((change) => change.strip === strip && thumps(change.key)));
  return thump ? 'source, pad or 48 V change while the strip is open.' : 'as you asked.';
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
