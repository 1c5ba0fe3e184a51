-- Long bodies are packed by lz4, which packs and unpacks them several times as quickly, where PostgreSQL was built with it. What is
-- stored already stays as it is until it is written again.
do $$
begin
    alter table part alter column body set compression lz4;
    alter table change alter column edits set compression lz4;
    alter table change alter column ripple set compression lz4;
    alter table carried alter column body set compression lz4;
    alter table draft_step alter column step set compression lz4;
exception
    when feature_not_supported then null;
end $$;
