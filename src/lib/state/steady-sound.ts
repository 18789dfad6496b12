/** Brings quiet and loud sound closer together while it is played: what is kept is not touched. */
export class SteadySound {
  private readonly context = new AudioContext();
  private readonly source: MediaElementAudioSourceNode;
  private readonly press: DynamicsCompressorNode;
  private readonly lift: GainNode;

  /** @param player plays through this from now on, steady or not: an element cannot be given back */
  constructor(player: HTMLMediaElement) {
    this.source = this.context.createMediaElementSource(player);
    // Decibels, and seconds: speech and music both stay natural at this.
    this.press = new DynamicsCompressorNode(this.context, {
      threshold: -32,
      knee: 24,
      ratio: 5,
      attack: 0.01,
      release: 0.35,
    });
    this.lift = new GainNode(this.context, { gain: 1.6 });
    this.press.connect(this.lift).connect(this.context.destination);
  }

  set(isSteady: boolean): void {
    void this.context.resume();
    this.source.disconnect();
    this.source.connect(isSteady ? this.press : this.context.destination);
  }

  end(): void {
    void this.context.close();
  }
}
