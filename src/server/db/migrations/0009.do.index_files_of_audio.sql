--! breaking: no
-- What nobody needs any more is looked for by the files that audio refers to.

create index audio_original_file on audio (original_file_id);
create index audio_file on audio (file_id);
