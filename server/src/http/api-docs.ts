import { Router } from 'express';

import document from '../../../docs/api/openapi.json';
import { apiDocsPage } from './api-docs-page';

/** The documentation of the API: a page, and the document that it is made of. */
export function apiDocs(): Router {
  const page = apiDocsPage(document);
  return Router()
    .get('/docs', (_, res) => res.type('html').send(page))
    .get('/docs/openapi.json', (_, res) => res.json(document));
}
