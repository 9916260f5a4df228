/** Findings: what is wrong or worth knowing. */
export * from './finding.ts';
export * from './sound-text.ts';
export * from './plain-text.ts';
