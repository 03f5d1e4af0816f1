export async function runWorker(_url: string): Promise<void> {}
