import type { Router } from 'express';

import { VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { removeRow } from '../removed/removed-store';
import { deskOfProduction } from '../scenes/production-store';
import { captureVenue, copyVenue, editVenue, insertVenue, undoVenueCapture, venues } from './venue-store';

/** The venues a production plays in. */
export const venueRoutes = ({ db, desks }: ServerContext): Router =>
  serveRoutes(VENUE_ROUTES, {
    venues: ({ params }) => venues(db, params.production),
    addVenue: ({ params, body }) => insertVenue(db, params.production, body),
    editVenue: ({ params, body }) => editVenue(db, params.production, params.id, body),
    captureVenue: async ({ params, body }) => {
      const session = desks.of((await deskOfProduction(db, params.production)) ?? '');
      return captureVenue(db, params.production, params.id, await session.capture(), body);
    },
    copyVenue: ({ params }) => copyVenue(db, params.production, params.id),
    undoVenueCapture: ({ params }) => undoVenueCapture(db, params.production, params.id),
    removeVenue: ({ params: { id, production } }) => removeRow(db, 'venues', { id, production_id: production }),
  });
