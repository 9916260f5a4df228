// npm run bundles: bundles the programs of worker threads, if their sources are newer.
import { buildBundles } from './steps.mjs';

buildBundles();
