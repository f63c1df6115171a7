import {
  clientChoiceShape,
  type ClientLinkView,
  clientNoteShape,
  type ClientPage,
  clientWordShape,
  type MadeClientLink,
  newClientLinkShape,
} from '../client-link';
import { get, type Nothing, post, put } from '../route';

/** Links by which people without an account hear mixes. */
export const CLIENT_LINK_ROUTES = {
  clientLinks: get('/productions/:production/client-links', 'The links to mixes of a song or show, the newest first.', {
    by: 'assistant',
  }).answers<readonly ClientLinkView[]>(),
  makeClientLink: post(
    '/productions/:production/client-links',
    'Makes a link to mixes, for people without an account.',
    {
      body: newClientLinkShape,
      status: 201,
    },
  ).answers<MadeClientLink>(),
  renewClientLink: post(
    '/client-links/:id/renew',
    'Gives a link another address, by which it is good once more; the one of before leads nowhere.',
  ).answers<MadeClientLink>(),
  withdrawClientLink: post('/client-links/:id/withdraw', 'Withdraws a link at once.').answers<ClientLinkView>(),
};

/** What whoever has such a link may ask for. */
export const CLIENT_ROUTES = {
  clientPage: get('/listen/:token', 'What a link leads to: mixes, and what was said of them.', {
    by: 'nothing',
  }).answers<ClientPage>(),
  sayWord: post('/listen/:token/word', 'Says the word that a link asks for.', {
    body: clientWordShape,
    by: 'nothing',
  }).answers<ClientPage>(),
  clientPiece: get('/listen/:token/mixes/:mix/pieces/:piece', 'A piece of a mix of a link, packed without loss.', {
    gives: 'audio/flac',
    by: 'nothing',
  }).answers<Nothing>(),
  clientFile: get(
    '/listen/:token/mixes/:mix/file.wav',
    'A mix of a link as a file to take along, where it allows that.',
    {
      gives: 'audio/wav',
      by: 'nothing',
    },
  ).answers<Nothing>(),
  addClientNote: post('/listen/:token/notes', 'Writes a mix note, at a moment of the song.', {
    body: clientNoteShape,
    status: 201,
    by: 'nothing',
  }).answers<ClientPage>(),
  choose: put('/listen/:token/choice', 'Says which mix is the favourite, and which is approved.', {
    body: clientChoiceShape,
    by: 'nothing',
  }).answers<ClientPage>(),
};
