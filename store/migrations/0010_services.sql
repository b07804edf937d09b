-- +goose Up
-- What the shop sells is a list of its own. Until now there were two services, each with a price beside it.
UPDATE settings SET doc = (doc - 'prices') || jsonb_build_object('services', jsonb_build_array(
    jsonb_build_object('id', 'basic', 'name', 'Maintenance basic', 'level', 'basic', 'tyres', 'none',
        'takes', '["bugs", "bird lime", "old dressing"]'::jsonb,
        'price', COALESCE((SELECT (p ->> 'amount')::bigint FROM jsonb_array_elements(COALESCE(doc -> 'prices', '[]')) p
                           WHERE p ->> 'service' = 'basic' LIMIT 1), 0)),
    jsonb_build_object('id', 'signature', 'name', 'Maintenance signature', 'level', 'signature', 'tyres', 'satin',
        'takes', '["bugs", "bird lime", "old dressing"]'::jsonb, 'tips', true,
        'price', COALESCE((SELECT (p ->> 'amount')::bigint FROM jsonb_array_elements(COALESCE(doc -> 'prices', '[]')) p
                           WHERE p ->> 'service' = 'signature' LIMIT 1), 0))));

-- +goose Down
UPDATE settings SET doc = (doc - 'services') || jsonb_build_object('prices', COALESCE(
    (SELECT jsonb_agg(jsonb_build_object('service', s ->> 'id', 'amount', COALESCE((s ->> 'price')::bigint, 0)))
     FROM jsonb_array_elements(doc -> 'services') s WHERE s ->> 'id' IN ('basic', 'signature')), '[]'));
