-- Up Migration

-- A workspace that was kept as text is laid out with ids of its own, given beforehand.
GRANT USAGE ON SEQUENCE item_id_seq, data_change_id_seq, adopted_forecast_id_seq TO ventrel_application;
