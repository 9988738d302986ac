-- The way there and back is all that undo needs; documents are packed by the faster method.
alter table edits drop column edit;
alter table edits alter column there set compression lz4;
alter table edits alter column back set compression lz4;
alter table sessions alter column document set compression lz4;
