-- Which heads called may be noted once a run is under way: what changed in a run tells of them too.

DROP TRIGGER who_changed_a_run;
CREATE TRIGGER who_changed_a_run AFTER UPDATE ON runs BEGIN
  INSERT INTO audit (what, row, visit_id, said) VALUES ('run_changed', NEW.id, NEW.visit_id, json_patch(
    json_object(
      'minutes_running', NEW.minutes_running, 'started_at', NEW.started_at,
      'compressor_stage', NEW.compressor_stage, 'compressor_speed', NEW.compressor_speed),
    CASE WHEN NEW.heads_calling IS NULL THEN '{}' ELSE json_object('heads_calling', json(NEW.heads_calling)) END));
END;
