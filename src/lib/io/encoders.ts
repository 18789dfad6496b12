/**
 * Whether this browser encodes moving pictures, but not H.264, which most players take: some come without it. Where it
 * encodes none, the server does, and what it encodes best is asked of it.
 */
export async function lacksH264(): Promise<boolean> {
  if (typeof VideoEncoder === 'undefined') return false;
  // High profile, level 3.1 (RFC 6381, section 3.3).
  const config = { codec: 'avc1.64001f', width: 1280, height: 720 };
  const { supported } = await VideoEncoder.isConfigSupported(config).catch(() => ({ supported: false }));
  return supported !== true;
}
