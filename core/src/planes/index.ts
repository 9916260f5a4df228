/** The ground: sizes, boxes, areas, tiles, half floats and colour planes. */
export * from './area.ts';
export * from './box-blur.ts';
export * from './box.ts';
export * from './camera-view.ts';
export * from './finite.ts';
export * from './half.ts';
export * from './rgb-planes.ts';
export * from './shares.ts';
export * from './size.ts';
export * from './tile-store.ts';
export * from './tiles.ts';
