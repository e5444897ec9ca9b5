--
-- PostgreSQL database dump
--

-- Dumped from database version 15.4

SET statement_timeout = 0;
SET lock_timeout = 0;
SET client_encoding = 'UTF8';
SET standard_conforming_strings = on;
SELECT pg_catalog.set_config('search_path', '', false);
SET check_function_bodies = false;
SET xmloption = content;
SET row_security = off;

CREATE SCHEMA visitor;
ALTER SCHEMA visitor OWNER TO visitor_owner;

CREATE EXTENSION IF NOT EXISTS citext WITH SCHEMA public;
COMMENT ON EXTENSION citext IS 'data type for case-insensitive character strings';
CREATE EXTENSION IF NOT EXISTS btree_gist WITH SCHEMA public;

CREATE TYPE visitor.booking_state AS ENUM (
    'asked',
    'held',
    'confirmed',
    'cancelled',
    'noshow'
);
CREATE TYPE visitor.season AS ENUM ('winter', 'spring', 'summer');
CREATE TYPE visitor.money_amount AS (
    amount numeric(12,2),
    currency character(3)
);
CREATE DOMAIN visitor.call_sign AS text
    CONSTRAINT call_sign_form CHECK ((VALUE ~ '^[A-Z0-9]{4,7}$'::text));

SET default_tablespace = '';
SET default_table_access_method = heap;

--
-- Name: area; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.area (
    area_id integer NOT NULL,
    name character varying(60) NOT NULL,
    parent_id integer,
    shape polygon
);

ALTER TABLE visitor.area OWNER TO visitor_owner;

CREATE SEQUENCE visitor.area_area_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE visitor.area_area_id_seq OWNED BY visitor.area.area_id;
ALTER TABLE ONLY visitor.area ALTER COLUMN area_id SET DEFAULT nextval('visitor.area_area_id_seq'::regclass);

--
-- Name: berth; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.berth (
    berth_id integer NOT NULL,
    area_id integer NOT NULL,
    code text NOT NULL,
    length_m numeric(5,2) NOT NULL,
    has_power boolean DEFAULT true NOT NULL,
    position point,
    tags text[] DEFAULT '{}'::text[] NOT NULL
);

ALTER TABLE visitor.berth OWNER TO visitor_owner;

CREATE SEQUENCE visitor.berth_berth_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE visitor.berth_berth_id_seq OWNED BY visitor.berth.berth_id;
ALTER TABLE ONLY visitor.berth ALTER COLUMN berth_id SET DEFAULT nextval('visitor.berth_berth_id_seq'::regclass);

--
-- Name: vessel; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.vessel (
    vessel_id bigint NOT NULL,
    name public.citext NOT NULL,
    flag character(2) DEFAULT 'KB'::bpchar NOT NULL,
    length_m numeric(5,2) NOT NULL,
    call_sign visitor.call_sign,
    papers xml,
    extra jsonb DEFAULT '{}'::jsonb NOT NULL,
    uid uuid DEFAULT gen_random_uuid() NOT NULL
);

ALTER TABLE visitor.vessel OWNER TO visitor_owner;

ALTER TABLE visitor.vessel ALTER COLUMN vessel_id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME visitor.vessel_vessel_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

--
-- Name: booking; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.booking (
    booking_id bigint NOT NULL,
    vessel_id bigint NOT NULL,
    berth_id integer,
    arrive date NOT NULL,
    leave date NOT NULL,
    state visitor.booking_state DEFAULT 'asked'::visitor.booking_state NOT NULL,
    made_at timestamp with time zone DEFAULT now() NOT NULL,
    ip inet,
    changed_at timestamp(3) without time zone,
    changed_by name
);

ALTER TABLE visitor.booking OWNER TO visitor_owner;

ALTER TABLE visitor.booking ALTER COLUMN booking_id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME visitor.booking_booking_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

--
-- Name: person; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.person (
    booking_id bigint NOT NULL,
    line smallint NOT NULL,
    name character varying(80) NOT NULL,
    nationality character(2),
    is_child boolean DEFAULT false NOT NULL
);

ALTER TABLE visitor.person OWNER TO visitor_owner;

--
-- Name: stay; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.stay (
    stay_id bigint NOT NULL,
    booking_id bigint NOT NULL,
    berth_id integer NOT NULL,
    nights daterange NOT NULL,
    moved integer DEFAULT 0 NOT NULL,
    left_at timestamp with time zone,
    kwh real,
    water_m3 double precision
);

ALTER TABLE visitor.stay OWNER TO visitor_owner;

CREATE SEQUENCE visitor.stay_stay_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE visitor.stay_stay_id_seq OWNED BY visitor.stay.stay_id;
ALTER TABLE ONLY visitor.stay ALTER COLUMN stay_id SET DEFAULT nextval('visitor.stay_stay_id_seq'::regclass);

--
-- Name: tariff; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.tariff (
    season visitor.season NOT NULL,
    length_range numrange NOT NULL,
    base money,
    per_metre numeric(8,2) NOT NULL
);

ALTER TABLE visitor.tariff OWNER TO visitor_owner;

--
-- Name: invoice; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.invoice (
    invoice_id integer NOT NULL,
    stay_id bigint NOT NULL,
    issued_on date DEFAULT CURRENT_DATE NOT NULL,
    total numeric(10,2) NOT NULL,
    details jsonb,
    pdf bytea,
    net numeric GENERATED ALWAYS AS ((total / 1.2)) STORED
);

ALTER TABLE visitor.invoice OWNER TO visitor_owner;

CREATE SEQUENCE visitor.invoice_invoice_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE visitor.invoice_invoice_id_seq OWNED BY visitor.invoice.invoice_id;
ALTER TABLE ONLY visitor.invoice ALTER COLUMN invoice_id SET DEFAULT nextval('visitor.invoice_invoice_id_seq'::regclass);

--
-- Name: payment; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.payment (
    payment_id integer NOT NULL,
    stay_id bigint NOT NULL,
    paid_at timestamp with time zone DEFAULT now() NOT NULL,
    amount numeric(10,2) NOT NULL,
    method character varying(10) NOT NULL
);

ALTER TABLE visitor.payment OWNER TO visitor_owner;

CREATE SEQUENCE visitor.payment_payment_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE visitor.payment_payment_id_seq OWNED BY visitor.payment.payment_id;
ALTER TABLE ONLY visitor.payment ALTER COLUMN payment_id SET DEFAULT nextval('visitor.payment_payment_id_seq'::regclass);

--
-- Name: tide; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.tide (
    port text NOT NULL,
    at_time timestamp with time zone NOT NULL,
    height_m numeric(4,2) NOT NULL
) PARTITION BY RANGE (at_time);

ALTER TABLE visitor.tide OWNER TO visitor_owner;

--
-- Name: change_log; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.change_log (
    log_id bigint NOT NULL,
    tab text NOT NULL,
    op character(1) NOT NULL,
    old_row jsonb,
    new_row jsonb,
    at timestamp with time zone DEFAULT now() NOT NULL
);

ALTER TABLE visitor.change_log OWNER TO visitor_owner;

ALTER TABLE visitor.change_log ALTER COLUMN log_id ADD GENERATED BY DEFAULT AS IDENTITY (
    SEQUENCE NAME visitor.change_log_log_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);

--
-- Name: notice; Type: TABLE; Schema: visitor; Owner: visitor_owner
--

CREATE TABLE visitor.notice (
    notice_id integer NOT NULL,
    body text NOT NULL,
    valid tstzrange,
    priority smallint DEFAULT 0 NOT NULL,
    search tsvector
);

ALTER TABLE visitor.notice OWNER TO visitor_owner;

CREATE SEQUENCE visitor.notice_notice_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE visitor.notice_notice_id_seq OWNED BY visitor.notice.notice_id;
ALTER TABLE ONLY visitor.notice ALTER COLUMN notice_id SET DEFAULT nextval('visitor.notice_notice_id_seq'::regclass);

CREATE TABLE visitor.tide_2024 PARTITION OF visitor.tide FOR VALUES FROM ('2024-01-01 00:00:00+00') TO ('2025-01-01 00:00:00+00');

CREATE TABLE visitor.tide_2025 PARTITION OF visitor.tide FOR VALUES FROM ('2025-01-01 00:00:00+00') TO ('2026-01-01 00:00:00+00');

CREATE UNLOGGED TABLE visitor.session (
    token text NOT NULL,
    data json,
    expires timestamp with time zone
)
WITH (fillfactor='70', autovacuum_enabled='true');
CREATE TABLE visitor.vip_vessel (
    contact text
)
INHERITS (visitor.vessel);
CREATE SERVER harbour FOREIGN DATA WRAPPER postgres_fdw OPTIONS (host 'harbour.kestrelbay.example', dbname 'portcalls');
CREATE FOREIGN TABLE visitor.port_call (
    call_id bigint OPTIONS (column_name 'id') NOT NULL,
    vessel text
)
SERVER harbour
OPTIONS (schema_name 'public', table_name 'call');

--
-- Data for Name: area; Type: TABLE DATA; Schema: visitor; Owner: visitor_owner
--

COPY visitor.area (area_id, name, parent_id) FROM stdin;
1	Pontoon A	\N
2	Pontoon B	\N
3	Pontoon C	1
4	Pontoon D	1
5	Pontoon E	1
6	Pontoon F	1
7	Pontoon G	1
8	Pontoon H	1
\.


--
-- Data for Name: berth; Type: TABLE DATA; Schema: visitor; Owner: visitor_owner
--

COPY visitor.berth (berth_id, area_id, code, length_m, has_power, tags) FROM stdin;
1	2	B001	9.50	t	{}
2	3	C002	10.50	t	{}
3	4	D003	11.50	f	{}
4	5	E004	12.50	t	{quiet,"near; gate"}
5	6	F005	13.50	t	{}
6	7	G006	14.50	f	{}
7	8	H007	15.50	t	{}
8	1	A008	16.50	t	{quiet,"near; gate"}
9	2	B009	17.50	f	{}
10	3	C010	18.50	t	{}
11	4	D011	19.50	t	{}
12	5	E012	20.50	f	{quiet,"near; gate"}
13	6	F013	21.50	t	{}
14	7	G014	8.50	t	{}
15	8	H015	9.50	f	{}
16	1	A016	10.50	t	{quiet,"near; gate"}
17	2	B017	11.50	t	{}
18	3	C018	12.50	f	{}
19	4	D019	13.50	t	{}
20	5	E020	14.50	t	{quiet,"near; gate"}
21	6	F021	15.50	f	{}
22	7	G022	16.50	t	{}
23	8	H023	17.50	t	{}
24	1	A024	18.50	f	{quiet,"near; gate"}
25	2	B025	19.50	t	{}
26	3	C026	20.50	t	{}
27	4	D027	21.50	f	{}
28	5	E028	8.50	t	{quiet,"near; gate"}
29	6	F029	9.50	t	{}
30	7	G030	10.50	f	{}
31	8	H031	11.50	t	{}
32	1	A032	12.50	t	{quiet,"near; gate"}
33	2	B033	13.50	f	{}
34	3	C034	14.50	t	{}
35	4	D035	15.50	t	{}
36	5	E036	16.50	f	{quiet,"near; gate"}
37	6	F037	17.50	t	{}
38	7	G038	18.50	t	{}
39	8	H039	19.50	f	{}
40	1	A040	20.50	t	{quiet,"near; gate"}
41	2	B041	21.50	t	{}
42	3	C042	8.50	f	{}
43	4	D043	9.50	t	{}
44	5	E044	10.50	t	{quiet,"near; gate"}
45	6	F045	11.50	f	{}
46	7	G046	12.50	t	{}
47	8	H047	13.50	t	{}
48	1	A048	14.50	f	{quiet,"near; gate"}
49	2	B049	15.50	t	{}
50	3	C050	16.50	t	{}
51	4	D051	17.50	f	{}
52	5	E052	18.50	t	{quiet,"near; gate"}
53	6	F053	19.50	t	{}
54	7	G054	20.50	f	{}
55	8	H055	21.50	t	{}
56	1	A056	8.50	t	{quiet,"near; gate"}
57	2	B057	9.50	f	{}
58	3	C058	10.50	t	{}
59	4	D059	11.50	t	{}
60	5	E060	12.50	f	{quiet,"near; gate"}
61	6	F061	13.50	t	{}
62	7	G062	14.50	t	{}
63	8	H063	15.50	f	{}
64	1	A064	16.50	t	{quiet,"near; gate"}
65	2	B065	17.50	t	{}
66	3	C066	18.50	f	{}
67	4	D067	19.50	t	{}
68	5	E068	20.50	t	{quiet,"near; gate"}
69	6	F069	21.50	f	{}
70	7	G070	8.50	t	{}
\.


--
-- Data for Name: vessel; Type: TABLE DATA; Schema: visitor; Owner: visitor_owner
--

COPY visitor.vessel (vessel_id, name, flag, length_m, extra) FROM stdin;
1	It's Otter 1	FR	8.20	{"sail": true}
2	It's Otter 2	FR	9.20	{"sail": true}
3	It's Tern 3	NO	10.20	{"sail": true}
4	It's Lark 4	FR	11.20	{"sail": true}
5	It's Tern 5	KB	12.20	{"sail": true}
6	It's Tern 6	NO	13.20	{"sail": true}
7	It's Seal 7	KB	14.20	{"sail": true}
8	It's Seal 8	FR	15.20	{"sail": true}
9	It's Tern 9	FR	16.20	{"sail": true}
10	It's Lark 10	KB	17.20	{"sail": true}
11	It's Lark 11	NO	18.20	{"sail": true}
12	It's Otter 12	KB	19.20	{"sail": true}
13	It's Seal 13	KB	20.20	{"sail": true}
14	It's Tern 14	KB	21.20	{"sail": true}
15	It's Seal 15	KB	7.20	{"sail": true}
16	It's Lark 16	KB	8.20	{"sail": true}
17	It's Tern 17	KB	9.20	{"sail": true}
18	It's Lark 18	KB	10.20	{"sail": true}
19	It's Lark 19	NO	11.20	{"sail": true}
20	It's Otter 20	KB	12.20	{"sail": true}
21	It's Lark 21	KB	13.20	{"sail": true}
22	It's Lark 22	NO	14.20	{"sail": true}
23	It's Otter 23	KB	15.20	{"sail": true}
24	It's Otter 24	NO	16.20	{"sail": true}
25	It's Lark 25	KB	17.20	{"sail": true}
26	It's Otter 26	KB	18.20	{"sail": true}
27	It's Otter 27	NO	19.20	{"sail": true}
28	It's Tern 28	FR	20.20	{"sail": true}
29	It's Otter 29	KB	21.20	{"sail": true}
30	It's Otter 30	NO	7.20	{"sail": true}
31	It's Otter 31	NO	8.20	{"sail": true}
32	It's Otter 32	KB	9.20	{"sail": true}
33	It's Seal 33	NO	10.20	{"sail": true}
34	It's Lark 34	KB	11.20	{"sail": true}
35	It's Otter 35	KB	12.20	{"sail": true}
36	It's Otter 36	NO	13.20	{"sail": true}
37	It's Tern 37	FR	14.20	{"sail": true}
38	It's Seal 38	NO	15.20	{"sail": true}
39	It's Seal 39	FR	16.20	{"sail": true}
40	It's Tern 40	NO	17.20	{"sail": true}
41	It's Tern 41	FR	18.20	{"sail": true}
42	It's Lark 42	FR	19.20	{"sail": true}
43	It's Lark 43	KB	20.20	{"sail": true}
44	It's Lark 44	NO	21.20	{"sail": true}
45	It's Otter 45	FR	7.20	{"sail": true}
46	It's Otter 46	FR	8.20	{"sail": true}
47	It's Otter 47	NO	9.20	{"sail": true}
48	It's Tern 48	FR	10.20	{"sail": true}
49	It's Otter 49	NO	11.20	{"sail": true}
50	It's Tern 50	NO	12.20	{"sail": true}
51	It's Tern 51	KB	13.20	{"sail": true}
52	It's Otter 52	FR	14.20	{"sail": true}
53	It's Otter 53	KB	15.20	{"sail": true}
54	It's Otter 54	NO	16.20	{"sail": true}
55	It's Tern 55	NO	17.20	{"sail": true}
56	It's Otter 56	NO	18.20	{"sail": true}
57	It's Lark 57	KB	19.20	{"sail": true}
58	It's Lark 58	FR	20.20	{"sail": true}
59	It's Otter 59	NO	21.20	{"sail": true}
60	It's Lark 60	FR	7.20	{"sail": true}
\.


--
-- Data for Name: tide; Type: TABLE DATA; Schema: visitor; Owner: visitor_owner
--

COPY visitor.tide (port, at_time, height_m) FROM stdin;
Kestrel Bay	2025-06-01 06:00:00+00	2.10
Kestrel Bay	2025-06-01 12:00:00+00	3.20
Kestrel Bay	2025-06-01 18:00:00+00	4.30
Kestrel Bay	2025-06-02 00:00:00+00	1.40
Kestrel Bay	2025-06-02 06:00:00+00	2.50
Kestrel Bay	2025-06-02 12:00:00+00	3.60
Kestrel Bay	2025-06-02 18:00:00+00	4.70
Kestrel Bay	2025-06-03 00:00:00+00	1.80
Kestrel Bay	2025-06-03 06:00:00+00	2.90
Kestrel Bay	2025-06-03 12:00:00+00	3.00
Kestrel Bay	2025-06-03 18:00:00+00	4.10
Kestrel Bay	2025-06-04 00:00:00+00	1.20
Kestrel Bay	2025-06-04 06:00:00+00	2.30
Kestrel Bay	2025-06-04 12:00:00+00	3.40
Kestrel Bay	2025-06-04 18:00:00+00	4.50
Kestrel Bay	2025-06-05 00:00:00+00	1.60
Kestrel Bay	2025-06-05 06:00:00+00	2.70
Kestrel Bay	2025-06-05 12:00:00+00	3.80
Kestrel Bay	2025-06-05 18:00:00+00	4.90
Kestrel Bay	2025-06-06 00:00:00+00	1.00
Kestrel Bay	2025-06-06 06:00:00+00	2.10
Kestrel Bay	2025-06-06 12:00:00+00	3.20
Kestrel Bay	2025-06-06 18:00:00+00	4.30
Kestrel Bay	2025-06-07 00:00:00+00	1.40
Kestrel Bay	2025-06-07 06:00:00+00	2.50
Kestrel Bay	2025-06-07 12:00:00+00	3.60
Kestrel Bay	2025-06-07 18:00:00+00	4.70
Kestrel Bay	2025-06-08 00:00:00+00	1.80
Kestrel Bay	2025-06-08 06:00:00+00	2.90
Kestrel Bay	2025-06-08 12:00:00+00	3.00
Kestrel Bay	2025-06-08 18:00:00+00	4.10
Kestrel Bay	2025-06-09 00:00:00+00	1.20
Kestrel Bay	2025-06-09 06:00:00+00	2.30
Kestrel Bay	2025-06-09 12:00:00+00	3.40
Kestrel Bay	2025-06-09 18:00:00+00	4.50
Kestrel Bay	2025-06-10 00:00:00+00	1.60
Kestrel Bay	2025-06-10 06:00:00+00	2.70
Kestrel Bay	2025-06-10 12:00:00+00	3.80
Kestrel Bay	2025-06-10 18:00:00+00	4.90
Kestrel Bay	2025-06-11 00:00:00+00	1.00
Kestrel Bay	2025-06-11 06:00:00+00	2.10
Kestrel Bay	2025-06-11 12:00:00+00	3.20
Kestrel Bay	2025-06-11 18:00:00+00	4.30
Kestrel Bay	2025-06-12 00:00:00+00	1.40
Kestrel Bay	2025-06-12 06:00:00+00	2.50
Kestrel Bay	2025-06-12 12:00:00+00	3.60
Kestrel Bay	2025-06-12 18:00:00+00	4.70
Kestrel Bay	2025-06-13 00:00:00+00	1.80
Kestrel Bay	2025-06-13 06:00:00+00	2.90
Kestrel Bay	2025-06-13 12:00:00+00	3.00
Kestrel Bay	2025-06-13 18:00:00+00	4.10
Kestrel Bay	2025-06-14 00:00:00+00	1.20
Kestrel Bay	2025-06-14 06:00:00+00	2.30
Kestrel Bay	2025-06-14 12:00:00+00	3.40
Kestrel Bay	2025-06-14 18:00:00+00	4.50
Kestrel Bay	2025-06-15 00:00:00+00	1.60
Kestrel Bay	2025-06-15 06:00:00+00	2.70
Kestrel Bay	2025-06-15 12:00:00+00	3.80
Kestrel Bay	2025-06-15 18:00:00+00	4.90
Kestrel Bay	2025-06-16 00:00:00+00	1.00
Kestrel Bay	2025-06-16 06:00:00+00	2.10
Kestrel Bay	2025-06-16 12:00:00+00	3.20
Kestrel Bay	2025-06-16 18:00:00+00	4.30
Kestrel Bay	2025-06-17 00:00:00+00	1.40
Kestrel Bay	2025-06-17 06:00:00+00	2.50
Kestrel Bay	2025-06-17 12:00:00+00	3.60
Kestrel Bay	2025-06-17 18:00:00+00	4.70
Kestrel Bay	2025-06-18 00:00:00+00	1.80
Kestrel Bay	2025-06-18 06:00:00+00	2.90
Kestrel Bay	2025-06-18 12:00:00+00	3.00
Kestrel Bay	2025-06-18 18:00:00+00	4.10
Kestrel Bay	2025-06-19 00:00:00+00	1.20
Kestrel Bay	2025-06-19 06:00:00+00	2.30
Kestrel Bay	2025-06-19 12:00:00+00	3.40
Kestrel Bay	2025-06-19 18:00:00+00	4.50
Kestrel Bay	2025-06-20 00:00:00+00	1.60
Kestrel Bay	2025-06-20 06:00:00+00	2.70
Kestrel Bay	2025-06-20 12:00:00+00	3.80
Kestrel Bay	2025-06-20 18:00:00+00	4.90
Kestrel Bay	2025-06-21 00:00:00+00	1.00
\.


ALTER TABLE ONLY visitor.area
    ADD CONSTRAINT area_pkey PRIMARY KEY (area_id);

ALTER TABLE ONLY visitor.berth
    ADD CONSTRAINT berth_pkey PRIMARY KEY (berth_id);

ALTER TABLE ONLY visitor.vessel
    ADD CONSTRAINT vessel_pkey PRIMARY KEY (vessel_id);

ALTER TABLE ONLY visitor.booking
    ADD CONSTRAINT booking_pkey PRIMARY KEY (booking_id);

ALTER TABLE ONLY visitor.person
    ADD CONSTRAINT person_pkey PRIMARY KEY (booking_id, line);

ALTER TABLE ONLY visitor.stay
    ADD CONSTRAINT stay_pkey PRIMARY KEY (stay_id);

ALTER TABLE ONLY visitor.tariff
    ADD CONSTRAINT tariff_pkey PRIMARY KEY (season, length_range);

ALTER TABLE ONLY visitor.invoice
    ADD CONSTRAINT invoice_pkey PRIMARY KEY (invoice_id);

ALTER TABLE ONLY visitor.payment
    ADD CONSTRAINT payment_pkey PRIMARY KEY (payment_id);

ALTER TABLE ONLY visitor.tide
    ADD CONSTRAINT tide_pkey PRIMARY KEY (port, at_time);

ALTER TABLE ONLY visitor.change_log
    ADD CONSTRAINT change_log_pkey PRIMARY KEY (log_id);

ALTER TABLE ONLY visitor.notice
    ADD CONSTRAINT notice_pkey PRIMARY KEY (notice_id);

ALTER TABLE ONLY visitor.berth
    ADD CONSTRAINT berth_area_id_fkey FOREIGN KEY (area_id) REFERENCES visitor.area(area_id);

ALTER TABLE ONLY visitor.booking
    ADD CONSTRAINT booking_vessel_id_fkey FOREIGN KEY (vessel_id) REFERENCES visitor.vessel(vessel_id);

ALTER TABLE ONLY visitor.booking
    ADD CONSTRAINT booking_berth_id_fkey FOREIGN KEY (berth_id) REFERENCES visitor.berth(berth_id);

ALTER TABLE ONLY visitor.person
    ADD CONSTRAINT person_booking_id_fkey FOREIGN KEY (booking_id) REFERENCES visitor.booking(booking_id) ON DELETE CASCADE;

ALTER TABLE ONLY visitor.stay
    ADD CONSTRAINT stay_booking_id_fkey FOREIGN KEY (booking_id) REFERENCES visitor.booking(booking_id);

ALTER TABLE ONLY visitor.stay
    ADD CONSTRAINT stay_berth_id_fkey FOREIGN KEY (berth_id) REFERENCES visitor.berth(berth_id);

ALTER TABLE ONLY visitor.invoice
    ADD CONSTRAINT invoice_stay_id_fkey FOREIGN KEY (stay_id) REFERENCES visitor.stay(stay_id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE ONLY visitor.payment
    ADD CONSTRAINT payment_stay_id_fkey FOREIGN KEY (stay_id) REFERENCES visitor.stay(stay_id);

ALTER TABLE ONLY visitor.stay ADD CONSTRAINT stay_no_overlap EXCLUDE USING gist (berth_id WITH =, nights WITH &&) WHERE (left_at IS NULL);
ALTER TABLE visitor.booking ADD CONSTRAINT booking_dates CHECK (leave > arrive) NOT VALID;
CREATE UNIQUE INDEX stay_open ON visitor.stay USING btree (booking_id) WHERE (left_at IS NULL);
CREATE INDEX vessel_extra ON visitor.vessel USING gin (extra jsonb_path_ops);
CREATE INDEX vessel_name ON visitor.vessel USING btree (lower((name)::text) text_pattern_ops, flag DESC NULLS LAST) INCLUDE (length_m);
CREATE INDEX notice_search ON visitor.notice USING gin (search) WITH (fastupdate='false');
CREATE INDEX CONCURRENTLY IF NOT EXISTS tide_brin ON visitor.tide_2024 USING brin (at_time);
CREATE TRIGGER booking_touch BEFORE INSERT OR DELETE OR UPDATE OF state, arrive ON visitor.booking FOR EACH ROW WHEN (pg_trigger_depth() < 2) EXECUTE FUNCTION visitor.touch();
CREATE CONSTRAINT TRIGGER stay_check AFTER INSERT OR UPDATE ON visitor.stay DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION visitor.touch();
CREATE TRIGGER notice_search BEFORE INSERT OR UPDATE ON visitor.notice FOR EACH ROW EXECUTE FUNCTION tsvector_update_trigger('search', 'pg_catalog.english', 'body');
CREATE EVENT TRIGGER guard_drop ON sql_drop WHEN TAG IN ('DROP TABLE') EXECUTE FUNCTION visitor.touch();
ALTER TABLE visitor.booking ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_bookings ON visitor.booking FOR SELECT TO visitor_app USING ((changed_by = CURRENT_USER) OR pg_has_role('visitor_owner', 'member'));
CREATE STATISTICS visitor.vessel_stat (dependencies) ON flag, length_m FROM visitor.vessel;
CREATE TEXT SEARCH CONFIGURATION visitor.harbour (COPY = pg_catalog.english);
CREATE CAST (visitor.money_amount AS numeric) WITH FUNCTION visitor.sum_step(numeric, visitor.money_amount) AS ASSIGNMENT;
CREATE PUBLICATION board FOR TABLE visitor.booking, visitor.stay WITH (publish = 'insert, update');
GRANT USAGE ON SCHEMA visitor TO visitor_app;
GRANT SELECT,INSERT,UPDATE ON TABLE visitor.booking TO visitor_app WITH GRANT OPTION;
GRANT ALL ON ALL SEQUENCES IN SCHEMA visitor TO visitor_app;
GRANT EXECUTE ON FUNCTION visitor.berth_price(numeric, integer, text) TO PUBLIC;
ALTER DEFAULT PRIVILEGES FOR ROLE visitor_owner IN SCHEMA visitor GRANT SELECT ON TABLES TO visitor_read;
SELECT pg_catalog.setval('visitor.berth_berth_id_seq', 70, true);
