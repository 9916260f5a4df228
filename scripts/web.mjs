// Builds the web application, if its sources are newer than the last build.
import { buildWeb } from './steps.mjs';

buildWeb();
