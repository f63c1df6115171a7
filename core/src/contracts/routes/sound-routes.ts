import { array, boolean, number, object, string } from 'yup';

import { DEPTHS } from '../../signal/wav-header';
import type { RenderAnalysis } from '../../sound/analyse-render';
import type { Removal } from '../removal';
import { del, get, type Nothing, post, put } from '../route';
import {
  blindTestShape,
  type BlindTestView,
  MAX_POLL_WAIT_MS,
  renderShape,
  type RenderView,
  type StemView,
} from '../sound';

const depthShape = string().oneOf(DEPTHS).default('24');
/** FLAC holds whole numbers only. */
const FLAC_DEPTHS = ['16', '24'] as const;
const nameShape = string().trim().max(120).default('Mix');

const waitQuery = object({ wait: number().min(0).max(MAX_POLL_WAIT_MS).default(0) }).noUnknown();

/** The most mixes in one archive. */
const MOST_FILES = 200;

export const STEM_ROUTES = {
  stems: get('/productions/:production/stems', 'The stems of a song or show.').answers<readonly StemView[]>(),
  attachStem: put('/productions/:production/stems/:strip', 'Attaches a recording to a strip.', {
    query: object({
      name: string().trim().max(200).default(''),
      modified: number().integer().min(0).max(Number.MAX_SAFE_INTEGER).optional(),
    }).noUnknown(),
    takes: 'audio/wav',
  }).answers<readonly StemView[]>(),
  detachStem: del('/productions/:production/stems/:strip', 'Detaches the recording of a strip.').answers<Removal>(),
};

export const RENDER_ROUTES = {
  startRender: post('/renders', 'Begins to render a mix, or finds it where it was rendered before.', {
    body: renderShape,
    status: 202,
    looks: true,
  }).answers<RenderView>(),
  rendersArchive: get(
    '/renders/archive.zip',
    'Several mixes as files: each `file` is the mix’s id, a space, and its name.',
    {
      query: object({
        depth: depthShape,
        name: nameShape,
        file: array(
          string()
            .matches(/^[0-9a-f]{64} ./, '${path} must be a mix and a name')
            .required(),
        )
          .transform((_, given: unknown) => [given].flat())
          .min(1)
          .max(MOST_FILES)
          .required(),
      }).noUnknown(),
      gives: 'application/zip',
      by: 'assistant',
    },
  ).answers<Nothing>(),
  loudnessReport: get('/renders/:id/report.txt', 'The loudness of a mix at every bit depth.', {
    query: object({ name: nameShape }).noUnknown(),
    gives: 'text/plain',
  }).answers<Nothing>(),
  render: get('/renders/:id', 'How far a mix is; waits for it so many ms at most.', {
    query: waitQuery,
  }).answers<RenderView>(),
  cancelRender: post('/renders/:id/cancel', 'Asks it to stop.', { looks: true }).answers<RenderView>(),
  analysis: get('/renders/:id/analysis', 'What can be measured of a mix.').answers<RenderAnalysis>(),
  renderPiece: get(
    '/renders/:id/pieces/:piece',
    'A piece of a mix, packed without loss, as soon as it is worked out; waits for it so many ms.',
    {
      query: waitQuery,
      gives: 'audio/flac',
    },
  ).answers<Nothing>(),
  renderAudio: get('/renders/:id/audio.wav', 'A mix as it is listened to.', { gives: 'audio/wav' }).answers<Nothing>(),
  bounce: get('/renders/:id/bounce.wav', 'A mix as a file to take along.', {
    query: object({ depth: depthShape, dither: boolean().default(true), name: nameShape }).noUnknown(),
    gives: 'audio/wav',
    by: 'assistant',
  }).answers<Nothing>(),
  flacBounce: get('/renders/:id/bounce.flac', 'A mix as a FLAC file to take along.', {
    query: object({ depth: string().oneOf(FLAC_DEPTHS).default('24'), name: nameShape }).noUnknown(),
    gives: 'audio/flac',
    by: 'assistant',
  }).answers<Nothing>(),
};

export const BLIND_TEST_ROUTES = {
  blindTests: get('/blind-tests/:a/:b', 'The blind tests of two sides, the newest first.').answers<
    readonly BlindTestView[]
  >(),
  saveBlindTest: post('/blind-tests', 'Keeps a blind test.', {
    body: blindTestShape,
    status: 201,
    by: 'viewer',
  }).answers<readonly BlindTestView[]>(),
};
