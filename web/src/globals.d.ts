/** The version of the program. */
declare const __VERSION__: string;
