import type { Knex } from 'knex';

import type { Recipe } from '@old-echo/core/combine/recipe';
import type { NamedMatch } from '@old-echo/core/contracts/conversion';
import type { DeskView } from '@old-echo/core/contracts/desk';
import type { JobStatus } from '@old-echo/core/contracts/job';
import type { MixNoteStatus } from '@old-echo/core/contracts/mix-note';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { VenueView } from '@old-echo/core/contracts/part';
import type { AppliedPreset } from '@old-echo/core/contracts/preset';
import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import type { AnsweredCaution, CancelAction, RestoreReport, RestoreStatus } from '@old-echo/core/contracts/restore';
import type { Role } from '@old-echo/core/contracts/role';
import type { SceneKind } from '@old-echo/core/contracts/scene';
import type { Value } from '@old-echo/core/desk/setting';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import type { PresetContent, PresetKind } from '@old-echo/core/library/preset';
import type { ReportLine } from '@old-echo/core/phrases/conversion-report';
import type { Point } from '@old-echo/core/recall/caution';
import type { Journal } from '@old-echo/core/recall/recall-target';
import type { WalkMarks } from '@old-echo/core/recall/walk';
import type { Baseline, Replaced } from '@old-echo/core/scenes/baseline';
import type { StoredDepth } from '@old-echo/core/signal/wav-header';
import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';

import type { JsonText } from './json-column';

/** A column of TINYINT(1). */
export type Flag = 0 | 1;

/** How often somebody tried something, kept by rate-limiter-flexible. */
export interface AttemptRow {
  readonly key: string;
  readonly points: number;
  readonly expire: number | null;
}

/** What two scenes of a desk's were answered with, by the way between them. */
export interface AcceptedRow {
  readonly desk_id: string;
  readonly from_id: string;
  readonly to_id: string;
  readonly points: JsonText<readonly Point[]>;
}

export interface BaselineRow {
  readonly desk_id: string;
  readonly state: JsonText<State>;
  readonly origins: JsonText<Omit<Baseline, 'state'>>;
  readonly revision: number;
}

export interface BlindTestRow {
  readonly id: string;
  readonly production_id: string;
  readonly a: string;
  readonly b: string;
  readonly listening_label: string;
  /** What was hidden and what was said, as two letters for each trial. */
  readonly answers: string;
  readonly made_at: Date;
}

/** Who changed something: when is said by its id. */
export interface ChangeRow {
  readonly id: string;
  readonly person: string;
  readonly device: string;
  /** "POST /desks/:id/captures" */
  readonly route: string;
  readonly about: string;
}

export interface CellOriginRow {
  readonly scene_id: string;
  readonly cell: string;
  readonly source_scene_id: string;
}

/** A link by which people without an account hear mixes. */
export interface ClientLinkRow {
  readonly id: string;
  readonly production_id: string;
  readonly token_hash: string;
  readonly name: string;
  readonly note: string;
  /** Null where it asks for no word. */
  readonly word_hash: string | null;
  readonly may_download: Flag;
  readonly made_at: Date;
  readonly made_by: string;
  readonly ends_at: Date;
  readonly withdrawn_at: Date | null;
  readonly opened: number;
  readonly opened_at: Date | null;
  /** The places of mixes, or null. */
  readonly favourite: number | null;
  readonly favourite_by: string;
  readonly approved: number | null;
  readonly approved_by: string;
}

export interface ClientMixRow {
  readonly link_id: string;
  readonly place: number;
  readonly name: string;
  readonly sound: string;
  readonly scene_id: string | null;
}

/** Somebody who has said the word of a link. */
export interface ClientVisitRow {
  readonly token_hash: string;
  readonly link_id: string;
}

export interface CombinationRow {
  readonly id: string;
  readonly base_id: string;
  readonly recipe: JsonText<Recipe>;
  readonly changed_at: Date;
  readonly revision: number;
}

export interface ConversionRow {
  readonly id: string;
  readonly title: string;
  readonly production_id: string | null;
  readonly scene_id: string | null;
  readonly report: JsonText<{ matches: readonly NamedMatch[]; lines: readonly ReportLine[] }>;
}

export interface DeskRow {
  readonly id: string;
  readonly name: string;
  readonly profile_id: string;
  readonly host: string;
  readonly port: number;
  readonly mode: DeskView['mode'];
  readonly safes: JsonText<unknown>;
  readonly place: number;
  readonly current_scene_id: string | null;
  readonly lease_holder_id: string | null;
  readonly lease_until: Date | null;
  readonly thresholds: JsonText<unknown>;
  readonly show_lock: Flag;
  /** What the lock is lifted with; null where it needs nothing. */
  readonly pin_hash: string | null;
  readonly hand_holds: DeskView['handHolds'];
  readonly swap_scene_id: string | null;
  readonly swap_scope: JsonText<unknown> | null;
  readonly works_on_id: string | null;
  readonly removed_at: Date | null;
}

/** A phone or computer on the network that was let in. */
export interface DeviceRow {
  readonly id: string;
  readonly person_id: string;
  readonly name: string;
  readonly token_hash: string;
  readonly made_at: Date;
  readonly seen_at: Date;
  readonly shut_out_at: Date | null;
}

/** What lets one device in, once. */
export interface EntryCodeRow {
  readonly code_hash: string;
  readonly person_id: string;
  readonly ends_at: Date;
  readonly used_at: Date | null;
}

/** What was last heard of a desk. */
export interface HeardRow {
  readonly desk_id: string;
  readonly state: JsonText<State>;
  readonly heard_at: Date;
}

export interface ImportRow {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly result_path: string | null;
  readonly made_at: Date;
}

/** Long work that goes on after its request was answered, on whichever server took it. */
export interface JobRow {
  readonly id: string;
  readonly status: JobStatus;
  readonly done: number;
  readonly total: number;
  readonly error: string;
  readonly cancel_requested: Flag;
  readonly heartbeat_at: Date;
  /** A song or show that it is making: nobody sees it until all of it is there. */
  readonly making_id: string | null;
}

/** Where a control of a manual desk stands, as someone said. */
export interface ManualSettingRow {
  readonly desk_id: string;
  readonly address: string;
  readonly value: JsonText<Value>;
}

export interface MixNoteRow {
  readonly id: string;
  readonly version_id: string;
  readonly text: string;
  /** DECIMAL, which the driver hands out as text. */
  readonly song_seconds: string | null;
  readonly strip: string | null;
  /** The link that it was written by, and the place of the mix that it is about; null where it was written here. */
  readonly client_link_id: string | null;
  readonly client_mix: number | null;
  readonly requested_by: string;
  readonly status: MixNoteStatus;
  readonly scene_id: string | null;
  readonly made_at: Date;
  readonly revision: number;
}

export interface OutboardRow {
  readonly id: string;
  readonly production_id: string;
  readonly name: string;
  readonly controls: JsonText<OutboardView['controls']>;
  readonly note: string;
  readonly photo: string | null;
  readonly revision: number;
}

export interface PartRow {
  readonly production_id: string;
  readonly strip: string;
  readonly part: string;
}

export interface PresetRow {
  readonly id: string;
  readonly kind: PresetKind;
  readonly name: string;
  readonly folder: string;
  readonly tags: JsonText<readonly string[]>;
  readonly note: string;
  readonly favourite: Flag;
  readonly starts: Flag;
  readonly profile_id: string;
  readonly made_on: string;
  readonly gist: string;
  readonly edition: number;
  readonly binned_at: Date | null;
  readonly revision: number;
}

export interface PresetEditionRow {
  readonly preset_id: string;
  readonly edition: number;
  readonly content: JsonText<PresetContent>;
  readonly made_by: string;
  readonly made_at: Date;
}

/** Which preset was applied to a strip of a desk, and which settings it gave it. */
export interface PresetOriginRow {
  readonly desk_id: string;
  readonly strip: string;
  readonly preset_id: string;
  readonly edition: number;
  readonly applied_settings: JsonText<SettingsByAddress>;
}

export interface ProductionRow {
  readonly id: string;
  readonly desk_id: string;
  readonly name: string;
  readonly kind: ProductionView['kind'];
  readonly note: string;
  readonly place: number;
  /** Number and ordinal of the scene that is captured next. */
  readonly next_number: number;
  readonly next_ordinal: number;
  readonly binned_at: Date | null;
  readonly revision: number;
}

export interface ProfileRow {
  readonly id: string;
  readonly name: string;
  readonly source: JsonText<unknown>;
  /** When somebody changed it last; null where it is as it came. */
  readonly changed_at: Date | null;
}

/** A row of another table that was removed and can be had back. */
export interface RemovedRow {
  readonly id: string;
  readonly from: string;
  readonly row: JsonText<Readonly<Record<string, unknown>>>;
  readonly removed_at: Date;
}

export interface RenderRow {
  readonly id: string;
  readonly measurements: JsonText<RenderMeasurements> | null;
  readonly used_at: Date;
  /** Until when it is kept although nobody asks for it; null where nothing keeps it. */
  readonly kept_until: Date | null;
}

export interface RestoreRow {
  readonly id: string;
  readonly desk_id: string;
  readonly scene_id: string | null;
  readonly way_back_id: string | null;
  readonly way_back_scope: JsonText<unknown>;
  readonly journal: JsonText<Journal>;
  readonly changes: number;
  readonly status: RestoreStatus;
  readonly report: JsonText<RestoreReport> | null;
  readonly started_at: Date;
  readonly ended_at: Date | null;
  readonly scene_name: string;
  readonly scene_number: number;
  readonly request: JsonText<{ readonly recall: object; readonly by?: string }>;
  readonly answered_cautions: JsonText<readonly AnsweredCaution[]>;
  readonly cancel: CancelAction | null;
  readonly resumes_restore_id: string | null;
  readonly baseline_before: JsonText<Replaced> | null;
  readonly walk: JsonText<WalkPlan> | null;
  readonly walk_marks: JsonText<WalkMarks> | null;
}

/** What the end of a walk needs to know. */
export interface WalkPlan {
  readonly chosen: State;
  readonly swapTo: string;
  readonly production: string;
}

export interface RippleRow {
  readonly id: string;
  readonly desk_id: string;
  readonly made_by: string;
  readonly made_at: Date;
  readonly undone_at: Date | null;
}

/** Somebody who is let in from elsewhere. */
export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
  readonly password_hash: string | null;
  readonly made_at: Date;
}

export interface ProductionRoleRow {
  readonly person_id: string;
  readonly production_id: string;
  readonly role: Role;
}

export interface RippleSceneRow {
  readonly ripple_id: string;
  readonly replaced_id: string;
  readonly scene_id: string;
}

export interface SavedScopeRow {
  readonly id: string;
  readonly profile_id: string;
  readonly name: string;
  readonly scope: JsonText<unknown>;
}

export interface SceneRow {
  readonly id: string;
  readonly seq: number;
  readonly version_id: string;
  readonly production_id: string;
  /** Where it stands among all of its production. */
  readonly ordinal: number;
  /** Null for what was kept by itself. */
  readonly number: number | null;
  readonly name: string;
  readonly note: string;
  readonly milestone: string;
  readonly kind: SceneKind;
  readonly protected: Flag;
  readonly partial: Flag;
  readonly scope: JsonText<unknown> | null;
  readonly changed_settings: number;
  readonly changed_strips: number;
  readonly made_at: Date;
  readonly made_by: string;
  readonly binned_at: Date | null;
  readonly changed_strip_names: string;
  /** The name while it is to be had only once in its version, else null; worked out by the database. */
  readonly unique_name: string | null;
  readonly revision: number;
}

export interface SceneAtHandRow {
  readonly desk_id: string;
  readonly scene_id: string;
  readonly place: number;
}

export interface SceneChangedStripRow {
  readonly scene_seq: number;
  readonly strip: string;
}

export interface SceneOutboardRow {
  readonly scene_id: string;
  readonly devices: JsonText<readonly OutboardView[]>;
}

/** The scene that was last replaced from a desk. */
export interface SceneReplacementRow {
  readonly desk_id: string;
  readonly scene_id: string;
  readonly replaced_id: string;
  readonly baseline_before: JsonText<Baseline> | null;
  readonly baseline_revision: number;
}

export interface SceneParentRow {
  readonly scene_id: string;
  readonly parent_id: string;
  readonly place: number;
}

export interface SceneStripRow {
  readonly scene_seq: number;
  readonly strip: string;
  readonly strip_state_id: number;
}

export interface SceneTagRow {
  readonly scene_id: string;
  readonly tag: string;
}

export interface StagedSettingsRow {
  readonly id: string;
  readonly desk_id: string;
  readonly title: string;
  readonly settings: JsonText<SettingsByAddress>;
  readonly applied_presets: JsonText<readonly AppliedPreset[]>;
  readonly gain_from_other_source: Flag;
  readonly made_at: Date;
}

export interface StemRow {
  readonly production_id: string;
  readonly strip: string;
  readonly name: string;
  readonly hash: string;
  readonly rate: number;
  readonly channels: number;
  readonly depth: StoredDepth;
  readonly frames: number;
  readonly recorded_gain_db: number;
  readonly made_at: Date;
  readonly silent: Flag;
  readonly peak_db: number | null;
  /** Samples of its own rate from midnight to where it begins; null where its file does not say. */
  readonly time_reference: number | null;
  /** Of the file it came from: bytes, and ms since 1970. */
  readonly came_bytes: number | null;
  readonly came_modified: number | null;
}

/** Which strip of another desk a person chose for each of a production's. */
export interface StripMatchRow {
  readonly production_id: string;
  readonly desk_id: string;
  readonly manual_matches: JsonText<Readonly<Record<string, string | null>>>;
}

/** One strip as it was captured, deflated; where it has a base, only what differs from that. */
export interface StripStateRow {
  readonly id: number;
  readonly fingerprint: Buffer;
  readonly content: Buffer;
  readonly base_id: number | null;
}

export interface VenueRow {
  readonly id: string;
  readonly production_id: string;
  readonly name: string;
  readonly note: string;
  readonly settings: JsonText<VenueView['settings']>;
  readonly captured_at: Date | null;
  /** What it was before it was captured last. */
  readonly before: JsonText<{ settings: VenueRow['settings']; capturedAt: Date | string | null }> | null;
}

export interface VersionRow {
  readonly id: string;
  readonly production_id: string;
  readonly name: string;
  readonly place: number;
  readonly from_scene_id: string | null;
  readonly note: string;
  readonly status: VersionView['status'];
  readonly binned_at: Date | null;
  readonly revision: number;
  readonly follows_id: string | null;
}

/** A table as it is read, and as it is written: a flag from what is true or false, a decimal from a number, all from SQL. */
type Table<Row extends object> = Knex.CompositeTableType<Row, Partial<Written<Row>>, Partial<Written<Row>>>;
type Written<Row> = {
  readonly [Column in keyof Row]:
    | (Column extends 'song_seconds' ? number | null : Row[Column] extends Flag ? boolean | Flag : Row[Column])
    | Knex.Raw
    | Knex.Ref<string, Record<string, string>>;
};

declare module 'knex/types/tables' {
  interface Tables {
    accepted: Table<AcceptedRow>;
    attempts: Table<AttemptRow>;
    baselines: Table<BaselineRow>;
    blind_tests: Table<BlindTestRow>;
    cell_origins: Table<CellOriginRow>;
    combinations: Table<CombinationRow>;
    conversions: Table<ConversionRow>;
    desks: Table<DeskRow>;
    devices: Table<DeviceRow>;
    changes: Table<ChangeRow>;
    client_links: Table<ClientLinkRow>;
    client_mixes: Table<ClientMixRow>;
    client_visits: Table<ClientVisitRow>;
    people: Table<PersonRow>;
    production_roles: Table<ProductionRoleRow>;
    entry_codes: Table<EntryCodeRow>;
    heard: Table<HeardRow>;
    imports: Table<ImportRow>;
    jobs: Table<JobRow>;
    manual_settings: Table<ManualSettingRow>;
    mix_notes: Table<MixNoteRow>;
    outboard: Table<OutboardRow>;
    parts: Table<PartRow>;
    presets: Table<PresetRow>;
    preset_editions: Table<PresetEditionRow>;
    preset_origins: Table<PresetOriginRow>;
    productions: Table<ProductionRow>;
    profiles: Table<ProfileRow>;
    removed_rows: Table<RemovedRow>;
    renders: Table<RenderRow>;
    restores: Table<RestoreRow>;
    ripples: Table<RippleRow>;
    ripple_scenes: Table<RippleSceneRow>;
    saved_scopes: Table<SavedScopeRow>;
    scenes: Table<SceneRow>;
    scenes_at_hand: Table<SceneAtHandRow>;
    scene_changed_strips: Table<SceneChangedStripRow>;
    scene_outboard: Table<SceneOutboardRow>;
    scene_replacements: Table<SceneReplacementRow>;
    scene_parents: Table<SceneParentRow>;
    scene_strips: Table<SceneStripRow>;
    scene_tags: Table<SceneTagRow>;
    staged_settings: Table<StagedSettingsRow>;
    stems: Table<StemRow>;
    strip_matches: Table<StripMatchRow>;
    strip_states: Table<StripStateRow>;
    venues: Table<VenueRow>;
    versions: Table<VersionRow>;
  }
}
