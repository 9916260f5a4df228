-- Picture files that corrections lay into the picture belong to the shot.
alter table file drop constraint file_role_check;
alter table file add constraint file_role_check
  check (role in ('picture', 'sidecar', 'preview', 'preview-large', 'scene', 'scene-part', 'result', 'fill'));
