/** Something worth telling about a file: `code` is stable, `message` is for people and says what to do. */
export interface Finding {
  severity: 'error' | 'warning' | 'info';
  code: string;
  message: string;
}
