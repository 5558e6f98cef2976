export default async function stop() {
  await globalThis.kettleTestDatabase?.stop();
}
