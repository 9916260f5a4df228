/**
 * Brings a stored document up to date, one version after another. What is no document of this format at all is handed
 * back as it is: the schema says what is wrong with it.
 * @param steps by the version that they start from
 * Throws an Error for a document of a version that is not known yet.
 */
export function upgradeDocument(
  stored: unknown,
  format: string,
  newest: number,
  steps: Readonly<Record<number, (document: object) => object>>,
): unknown {
  if (typeof stored !== 'object' || stored === null) return stored;
  let document: object & { format?: unknown; version?: unknown } = stored;
  if (document.format !== format || typeof document.version !== 'number') return stored;
  if (document.version > newest)
    throw new Error(
      `The document is of version ${document.version}; this Zesty Crow knows versions up to ${newest}. Update it to open the document`,
    );
  for (let version = document.version; version < newest; version++) {
    const step = steps[version];
    if (!step) throw new Error(`Documents of version ${version} cannot be opened any more`);
    document = { ...step(document), version: version + 1 };
  }
  return document;
}
