/**
 * Whether this browser encodes video but not H.264, which most players take. A browser that encodes none leaves it to
 * the server, whose encoders are asked separately.
 */
export async function lacksH264(): Promise<boolean> {
  if (typeof VideoEncoder === 'undefined') return false;
  // High profile, level 3.1 (RFC 6381, section 3.3).
  const config = { codec: 'avc1.64001f', width: 1280, height: 720 };
  const { supported } = await VideoEncoder.isConfigSupported(config).catch(() => ({ supported: false }));
  return supported !== true;
}
