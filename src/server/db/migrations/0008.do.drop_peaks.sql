--! breaking: yes
-- Pairs of lowest and highest samples were written at every import and read by nothing.

drop table audio_peaks;
