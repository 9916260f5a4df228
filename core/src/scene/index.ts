/** Scenes for the renderer, read from glTF. */
export * from './scene.ts';
export * from './read-gltf.ts';
