export const runTests = async (): Promise<number> => 0;
