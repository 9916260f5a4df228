#!/usr/bin/env node
// The command line is TypeScript run through tsx, as the server is: no build step, one source of truth.
import { buildBundles } from '../../scripts/steps.mjs';
import { register } from 'tsx/esm/api';
buildBundles();
register();
await import('../src/main.ts');
