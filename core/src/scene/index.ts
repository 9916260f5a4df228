/** Scenes for the renderer, read from glTF. */
export * from './scene.ts';
export * from './texture.ts';
export * from './open.ts';
export * from './outline.ts';
export * from './read-gltf.ts';
export * from './tracks.ts';
export * from './write-tracks.ts';
