-- Functions, procedures and triggers of the visitor app.
SET search_path = visitor, public;

CREATE OR REPLACE FUNCTION visitor.berth_price(p_length numeric, p_nights integer DEFAULT 1, p_season text DEFAULT 'summer')
RETURNS numeric
LANGUAGE plpgsql STABLE STRICT PARALLEL SAFE
AS $function$
DECLARE
    rate visitor.tariff%ROWTYPE;
    price numeric(10, 2) := 0;
    night CONSTANT interval := interval '1 day';
BEGIN
    SELECT * INTO STRICT rate FROM visitor.tariff t
    WHERE t.season = p_season::visitor.season AND p_length <@ t.length_range;
    price := rate.base + rate.per_metre * p_length * p_nights;
    IF p_nights >= 7 THEN
        price := price * 0.9;
    ELSIF p_nights = 0 THEN
        RAISE EXCEPTION 'a stay has at least one night' USING ERRCODE = '22023', HINT = 'Ask for a day ticket.';
    END IF;
    RETURN round(price, 2);
EXCEPTION
    WHEN no_data_found THEN
        RAISE NOTICE 'no tariff for % m in %', p_length, p_season;
        RETURN NULL;
    WHEN too_many_rows OR SQLSTATE '21000' THEN
        RAISE;
END;
$function$;

CREATE FUNCTION visitor.free_berths(arrive date, leave date, boat_length numeric)
RETURNS TABLE (berth_id integer, code text, metres_spare numeric)
LANGUAGE sql STABLE AS $$
    SELECT b.berth_id, b.code, b.length_m - boat_length
    FROM visitor.berth b
    WHERE b.length_m >= boat_length
      AND NOT EXISTS (SELECT FROM visitor.stay s WHERE s.berth_id = b.berth_id AND s.nights && daterange(arrive, leave))
    ORDER BY b.length_m, b.code COLLATE "C";
$$;

CREATE OR REPLACE PROCEDURE visitor.check_in(IN p_booking bigint, INOUT p_stay bigint DEFAULT NULL)
LANGUAGE plpgsql
AS $$
<<main>>
DECLARE
    b record;
    c CURSOR (lim numeric) FOR SELECT * FROM visitor.free_berths(current_date, current_date + 1, lim) LIMIT 1;
    found_berth integer;
    affected bigint;
BEGIN
    SELECT bk.*, v.length_m INTO b FROM visitor.booking bk JOIN visitor.vessel v USING (vessel_id)
    WHERE bk.booking_id = p_booking FOR UPDATE OF bk SKIP LOCKED;
    IF NOT FOUND THEN
        RAISE EXCEPTION USING MESSAGE = format('booking %s is being worked on', p_booking);
    END IF;
    OPEN c(b.length_m);
    FETCH NEXT FROM c INTO found_berth;
    CLOSE c;
    INSERT INTO visitor.stay AS st (booking_id, berth_id, nights)
    VALUES (p_booking, coalesce(b.berth_id, found_berth), daterange(b.arrive, b.leave, '[)'))
    ON CONFLICT (booking_id) WHERE left_at IS NULL DO UPDATE SET berth_id = EXCLUDED.berth_id, moved = st.moved + 1
    RETURNING stay_id INTO p_stay;
    GET DIAGNOSTICS affected = ROW_COUNT;
    ASSERT affected = 1, 'exactly one stay';
    PERFORM pg_notify('arrivals', json_build_object('stay', p_stay, 'berth', found_berth)::text);
    COMMIT;
END
$$;

CREATE FUNCTION visitor.search(filter jsonb) RETURNS SETOF visitor.vessel
LANGUAGE plpgsql AS $body$
DECLARE
    sql text := 'SELECT * FROM visitor.vessel WHERE true';
    k text;
    v text;
BEGIN
    FOR k, v IN SELECT * FROM jsonb_each_text(filter) LOOP
        CONTINUE WHEN v IS NULL OR v = '';
        sql := sql || format(' AND %I = %L', k, v);
    END LOOP;
    RETURN QUERY EXECUTE sql || ' LIMIT $1' USING 50;
    IF NOT FOUND THEN
        RETURN QUERY SELECT * FROM visitor.vessel WHERE name ILIKE '%' || (filter ->> 'name') || '%';
    END IF;
    RETURN;
END;
$body$;

CREATE FUNCTION visitor.bill(p_stays bigint[]) RETURNS integer LANGUAGE plpgsql AS $$
DECLARE
    s bigint; n int = 0; t visitor.money_amount; lines text[] := ARRAY[]::text[];
BEGIN
    FOREACH s IN ARRAY p_stays LOOP
        SELECT (visitor.berth_price(v.length_m, upper(st.nights) - lower(st.nights)), 'KBC')::visitor.money_amount
        INTO t FROM visitor.stay st JOIN visitor.booking bk ON bk.booking_id = st.booking_id JOIN visitor.vessel v ON v.vessel_id = bk.vessel_id
        WHERE st.stay_id = s;
        lines := lines || (s || ': ' || (t).amount);
        n := n + 1;
    END LOOP;
    FOR i IN REVERSE array_upper(lines, 1)..1 BY 2 LOOP
        RAISE DEBUG '%', lines[i];
    END LOOP;
    WHILE n > 1000 LOOP EXIT; END LOOP;
    CASE n WHEN 0 THEN RETURN 0; WHEN 1, 2 THEN NULL; ELSE PERFORM 1; END CASE;
    BEGIN
        INSERT INTO visitor.invoice (stay_id, total) SELECT unnest(p_stays), 0;
    EXCEPTION WHEN unique_violation THEN NULL;
    END;
    RETURN n;
END $$;

CREATE FUNCTION visitor.touch() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = visitor, pg_temp AS $$
BEGIN
    IF TG_OP = 'DELETE' THEN
        INSERT INTO change_log (tab, op, old_row) VALUES (TG_TABLE_NAME, left(TG_OP, 1), to_jsonb(OLD));
        RETURN OLD;
    END IF;
    NEW.changed_at := clock_timestamp();
    NEW.changed_by := COALESCE(current_setting('visitor.user', true), session_user);
    INSERT INTO change_log (tab, op, old_row, new_row)
    VALUES (TG_TABLE_NAME, left(TG_OP, 1), CASE WHEN TG_OP = 'UPDATE' THEN to_jsonb(OLD) END, to_jsonb(NEW));
    RETURN NEW;
END $$;

CREATE FUNCTION visitor.sum_step(state numeric, value visitor.money_amount) RETURNS numeric
LANGUAGE sql IMMUTABLE RETURN coalesce(state, 0) + coalesce((value).amount, 0);

CREATE FUNCTION visitor.is_free(berth integer, day date) RETURNS boolean STABLE
BEGIN ATOMIC
    SELECT count(*) = 0 FROM visitor.stay s WHERE s.berth_id = is_free.berth AND s.nights @> is_free.day;
END;

CREATE AGGREGATE visitor.total(visitor.money_amount) (SFUNC = visitor.sum_step, STYPE = numeric, INITCOND = '0');

CREATE FUNCTION visitor.tide_curve(low numeric, high numeric) RETURNS numeric[] LANGUAGE plpython3u AS $py$
import math
# it's plain Python between these quotes
return [low + (high - low) * (1 - math.cos(math.pi * i / 6)) / 2 for i in range(7)]
$py$;

CREATE OPERATOR visitor.<=> (LEFTARG = numeric, RIGHTARG = numeric, FUNCTION = visitor.compare, COMMUTATOR = OPERATOR(visitor.<=>));

DO $do$
DECLARE r record;
BEGIN
    FOR r IN SELECT c.relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'visitor' AND c.relkind = 'r' LOOP
        EXECUTE format('GRANT SELECT ON visitor.%I TO visitor_read', r.relname);
    END LOOP;
END
$do$;
