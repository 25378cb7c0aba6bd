/** Whether one thing is reached from another by what each leads to, however many lie between; circles are walked once. */
export function reaches(from: string, to: string, leadsTo: (id: string) => readonly string[]): boolean {
  const seen = new Set<string>();
  const walk = (id: string): boolean => {
    if (id === to) return true;
    if (seen.has(id)) return false;
    seen.add(id);
    return leadsTo(id).some(walk);
  };
  return walk(from);
}
