// An alarm that rings when something falls due.
import { useEffect } from "react";

/** useAlarm rings once when something falls due. */
export function useAlarm(due: boolean): void {
  useEffect(() => {
    if (!due) return;
    navigator.vibrate?.([300, 150, 300]);
    try {
      const sound = new AudioContext();
      const tone = sound.createOscillator();
      tone.connect(sound.destination);
      tone.start();
      tone.stop(sound.currentTime + 0.6);
      tone.onended = () => void sound.close();
    } catch {
      // a page that nobody has pressed yet may not sound; the look is shown all the same
    }
  }, [due]);
}
