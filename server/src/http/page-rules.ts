import { createHash } from 'node:crypto';

import type { RequestHandler } from 'express';
import helmet from 'helmet';

import { PRINT } from './printed-page';

const SELF = `'self'`;
const NONE = `'none'`;
const sha256 = (script: string): string => `'sha256-${createHash('sha256').update(script).digest('base64')}'`;

/**
 * What browsers may do with what we send (Content Security Policy, level 3; Cross-Origin-Resource-Policy): run only our own code, load
 * only from here, and show it in no other page's frame. Nothing asks for TLS for good: at this machine
 * itself we are reached over plain HTTP.
 */
export const pageRules = (): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: [SELF],
        // The sound's inner loops are WebAssembly.
        scriptSrc: [SELF, `'wasm-unsafe-eval'`, sha256(PRINT)],
        // Styles are written into the page as its parts are drawn.
        styleSrc: [SELF, `'unsafe-inline'`],
        imgSrc: [SELF, 'data:', 'blob:'],
        mediaSrc: [SELF, 'blob:'],
        workerSrc: [SELF, 'blob:'],
        objectSrc: [NONE],
        baseUri: [NONE],
        formAction: [SELF],
        frameAncestors: [NONE],
      },
    },
    strictTransportSecurity: false,
    xFrameOptions: { action: 'deny' },
  });
