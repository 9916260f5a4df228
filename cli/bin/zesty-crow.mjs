#!/usr/bin/env node
// The command line is bundled from TypeScript whenever its sources are newer.
import { buildBundles } from '../../scripts/steps.mjs';
buildBundles();
await import('../generated/main.mjs');
