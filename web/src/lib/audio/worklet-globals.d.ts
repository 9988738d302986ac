/** What a worklet's global scope has. */
declare const sampleRate: number;
declare const currentFrame: number;
declare abstract class AudioWorkletProcessor {
  readonly port: MessagePort;
  constructor(options?: { processorOptions?: unknown });
}
declare function registerProcessor(
  name: string,
  processor: new (options: { processorOptions: { module: WebAssembly.Module } }) => AudioWorkletProcessor,
): void;
