CREATE TABLE dbo.Staff
(
    StaffId       int IDENTITY(1,1) NOT NULL,
    StaffName     nvarchar(80) NOT NULL,
    Department    hierarchyid NULL,
    ManagerId     int NULL,
    HiredOn       date NOT NULL,
    LeftOn        date NULL,
    PinHash       binary(32) NULL,
    Salary        money ENCRYPTED WITH (COLUMN_ENCRYPTION_KEY = CEK1, ENCRYPTION_TYPE = RANDOMIZED, ALGORITHM = 'AEAD_AES_256_CBC_HMAC_SHA_256') NULL,
    CONSTRAINT PK_Staff PRIMARY KEY (StaffId),
    CONSTRAINT FK_Staff_Manager FOREIGN KEY (ManagerId) REFERENCES dbo.Staff (StaffId)
)
GO
CREATE TABLE dbo.Shift
(
    ShiftId     int IDENTITY(1,1) NOT NULL,
    StaffId     int NOT NULL,
    Desk        varchar(10) NOT NULL,
    StartsAt    datetime NOT NULL,
    EndsAt      datetime NULL,
    Minutes     AS DATEDIFF(minute, StartsAt, ISNULL(EndsAt, GETDATE()))
)
ALTER TABLE dbo.Shift ADD CONSTRAINT PK_Shift PRIMARY KEY CLUSTERED (ShiftId)
ALTER TABLE dbo.Shift WITH CHECK ADD CONSTRAINT FK_Shift_Staff FOREIGN KEY (StaffId) REFERENCES dbo.Staff (StaffId)
ALTER TABLE dbo.Shift CHECK CONSTRAINT FK_Shift_Staff
GO
