/**
 * Follows light paths through a scene, a wave of them and a bounce at a time: every stage goes over all paths of the wave
 * that are still under way. Scene and search trees lie in shared memory, which no thread writes; each thread has arrays,
 * stack and scratch of its own there. The plain code beside it is render/plain/.
 */
export { begin, fieldBytes, heap } from './memory';
export { addSamples, aim } from './camera';
export { draw } from './sampler';
export { forgetReach, reachBytes, surely } from './reach';
export { meet } from './meet';
export { arrive } from './arrive';
export { shine } from './shine';
export { choose, goOn } from './next-direction';
export { surfaces } from './surface';
export { noteFirst, occlude } from './first-surface';
export { passShadows, receive, towardsLights, towardsSky, towardsSun } from './direct';
