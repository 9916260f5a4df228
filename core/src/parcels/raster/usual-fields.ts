import type { Field } from '../../fields/field.ts';
import { DISPLAY_TRANSFORMS } from '../../display/transforms.ts';
import { RASTER_FORMATS, type RasterFormat } from './formats.ts';

/** A choice of forms, EXR first where it can be that, too. */
export const formatField = (
  exr: boolean,
  only: (f: RasterFormat) => boolean = () => true,
  neutral?: string,
): Field => ({
  kind: 'choice',
  key: 'format',
  label: 'Format',
  options: [
    ...(exr ? [{ value: 'exr', label: 'EXR' }] : []),
    ...RASTER_FORMATS.filter(only).map((f) => ({ value: f.format, label: f.label })),
  ],
  neutral: neutral ?? (exr ? 'exr' : 'png16'),
});
export const TRANSFORM: Field = {
  kind: 'choice',
  key: 'transform',
  label: 'Display',
  options: [
    { value: 'usual', label: 'usual: linear for float, sRGB otherwise' },
    ...DISPLAY_TRANSFORMS.map((t) => ({ value: t.name, label: t.label })),
  ],
  neutral: 'usual',
};
export const PROFILE: Field = { kind: 'switch', key: 'profile', label: 'Embed the profile', neutral: true };
export const DITHER: Field = { kind: 'switch', key: 'dither', label: 'Dither', neutral: true };
export const QUALITY: Field = {
  kind: 'number',
  key: 'quality',
  label: 'JPEG quality',
  unit: '',
  min: 1,
  max: 100,
  step: 1,
  neutral: 92,
};
export const WINDOW: Field = {
  kind: 'choice',
  key: 'window',
  label: 'Window',
  options: [
    { value: 'display', label: 'the frame' },
    { value: 'data', label: 'with its overscan' },
  ],
  neutral: 'display',
};
export const CROP: Field = { kind: 'text', key: 'crop', label: 'Crop', hint: '800x450+100+50', neutral: '' };
/** Members that are meant, by name. */
export const LAYER: Field = {
  kind: 'text',
  key: 'layer',
  label: 'ID layer',
  hint: 'CryptoObject',
  neutral: 'CryptoObject',
};
export const MEMBERS: Field = {
  kind: 'text',
  key: 'members',
  label: 'Members',
  hint: 'all; or jars/*, hive/roof',
  neutral: '',
};
